import type { Schemas } from "../../api/client";

export type Grinder = Schemas["GrinderView"];

/** Room for the grinders' names, px. */
export const LEFT = 168;
