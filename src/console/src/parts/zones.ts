import type { Option } from "./controls/Picker";

/** The time zones that this browser knows (IANA), with what their clocks show now. */
export const zones = (): Option[] =>
  Intl.supportedValuesOf("timeZone").map((zone) => ({
    code: zone,
    name: zone,
    detail: new Intl.DateTimeFormat("en-GB", { timeZone: zone, hour: "2-digit", minute: "2-digit" }).format(new Date()),
  }));
