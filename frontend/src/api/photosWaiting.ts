import { createStore, entries, del, set } from "idb-keyval";
import { useCallback, useEffect, useSyncExternalStore } from "react";
import { ApiError, isAway, type Schemas } from "./client";
import { measured, uploadPhotos } from "./measurements";
import { useReach } from "./reach";

/** Photos that could not be sent because the server was away, kept on the device. */
interface Sending {
  files: File[];
  fields: Record<string, string>;
  /** Why the server would not have them. */
  refused?: string;
}

const store = createStore("hakari-photos", "waiting");
let known: [string, Sending][] = [];
const readers = new Set<() => void>();

async function look() {
  known = await entries<string, Sending>(store).catch(() => []);
  readers.forEach((tell) => tell());
}

/** Keep photos until the server is heard; false where this device cannot. */
export async function keepForLater(files: File[], fields: Record<string, string>): Promise<boolean> {
  try {
    await set(`${new Date().toISOString()} ${crypto.getRandomValues(new Uint32Array(1))[0]}`, { files, fields }, store);
    await look();
    return true;
  } catch {
    return false;
  }
}

let sending = false;
const unsent = () => known.find(([, s]) => !s.refused);

/** Send what waits, one after the other; `then` after each that was measured. */
async function sendAll(then: (job: Schemas["MeasuringJob"]) => void) {
  if (sending) return;
  sending = true;
  try {
    // Those that come to wait meanwhile go too.
    for (let next = unsent(); next; next = unsent()) {
      const [key, { files, fields }] = next;
      let job;
      try {
        job = await uploadPhotos(files, fields, () => undefined);
      } catch (refusal) {
        if (isAway(refusal) || !(refusal instanceof ApiError)) return;
        await set(key, { files, fields, refused: `${refusal.message} ${refusal.remedy}` }, store);
        await look();
        continue;
      }
      // It is on the server's disk now.
      await del(key, store);
      await look();
      then(await measured(job));
    }
  } catch {
    // Its measuring goes on without this page.
  } finally {
    sending = false;
  }
}

const watch = (tell: () => void) => {
  readers.add(tell);
  return () => void readers.delete(tell);
};

/** How many photos wait on this device, and what the server said where it would not have them. */
export function usePhotosWaiting() {
  const waiting = useSyncExternalStore(watch, () => known);
  const refused = waiting.find(([, s]) => s.refused);
  const discard = useCallback(async () => {
    if (refused) await del(refused[0], store);
    await look();
  }, [refused]);
  return {
    photos: waiting.reduce((n, [, s]) => n + s.files.length, 0),
    refused: refused?.[1].refused,
    discard: () => void discard(),
  };
}

/** Send photos that wait as soon as the server is heard. */
export function useSendingWaitingPhotos(then: (job: Schemas["MeasuringJob"]) => void) {
  const { away } = useReach();
  const waiting = useSyncExternalStore(watch, () => known);
  useEffect(() => void look(), []);
  useEffect(() => {
    if (!away && waiting.length) void sendAll(then);
  }, [away, waiting, then]);
}
