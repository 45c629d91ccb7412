import { api, at, dataOf, sendWithProgress, type Schemas } from "./client";

/** Upload photos; the answer tells how to follow the measuring of each. */
export function uploadPhotos(
  files: File[],
  fields: Record<string, string>,
  onSent: (share: number) => void,
): Promise<Schemas["MeasuringJob"]> {
  const form = new FormData();
  files.forEach((file) => form.append("photos", file));
  Object.entries(fields).forEach(([name, value]) => form.append(name, value));
  return sendWithProgress("/api/measurements", form, onSent, "The photos did not arrive.");
}

const MEASURING_LOOK_MS = 250;

/** Follow a measuring until it is finished; `each` is called with how far it is. */
export async function measured(
  job: Schemas["MeasuringJob"],
  each?: (job: Schemas["MeasuringJob"]) => void,
): Promise<Schemas["MeasuringJob"]> {
  while (!job.finished) {
    each?.(job);
    await new Promise((resolve) => setTimeout(resolve, MEASURING_LOOK_MS));
    job = dataOf(await api.GET("/api/measurements/{id}", at(job.id)));
  }
  return job;
}

/** What a frame of the live view shows: how far the photo would be usable. */
export const lookAtFrame = async (frame: FormData) =>
  dataOf(await api.POST("/api/camera-frames", { body: frame as never, bodySerializer: (body) => body as never }));
