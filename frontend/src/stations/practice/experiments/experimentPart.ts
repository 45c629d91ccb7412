import type { Body, Experiment } from "../../../api/practice";

/** What the part of an experiment's page that notes its results is given. */
export interface Part {
  experiment: Experiment;
  /** Keep what was noted; whether it was taken. */
  note: (body: Body) => Promise<boolean>;
  /** Why the last of it was refused. */
  error: unknown;
}
