import type { CSSProperties } from "react";

/** What is computed of a look, handed to a rule of a style sheet. */
export const cssVariables = (values: Record<`--${string}`, string | number | undefined>) => values as CSSProperties;
