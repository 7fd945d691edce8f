import type { Contract } from "../api";
import type { Said } from "./request";

/** What the fields of one kind of change need: what was said, and what can be named. */
export interface Asked {
  said: Said;
  put: (some: Partial<Said>) => void;
  tunnel?: Contract["TunnelPage"];
  choices?: Contract["TunnelChoicesPage"];
  gateway?: Contract["GatewayChoicesPage"];
}
