import type { Contract } from "../service/api";
import type { Said } from "./request";

/** What the fields of one kind of change need: what was said, and what can be named. */
export interface DraftNeeds {
  said: Said;
  put: (some: Partial<Said>) => void;
  tunnel?: Contract["TunnelPage"];
  choices?: Contract["TunnelChoicesPage"];
  gateway?: Contract["GatewayChoicesPage"];
}
