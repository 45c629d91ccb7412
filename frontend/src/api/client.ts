import createClient from "openapi-fetch";
import { noteAnswer, noteAway } from "./reach";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];

/** What the server says when it refuses something: what is wrong and what to do. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly remedy: string,
    readonly field: string | null,
  ) {
    super(message);
  }
}

/** The code of a refusal that is none: nothing answered. */
const NO_SERVER = "no-server";
export const isAway = (error: unknown) => error instanceof ApiError && error.code === NO_SERVER;

/** Whether the server failed at something, or is just starting: it did not refuse it. */
export const isTrouble = (error: unknown) => error instanceof ApiError && error.status >= 500;

// Looked up at each call, so that tests can replace it.
const fetcher = createClient<paths>({ fetch: (request) => globalThis.fetch(request) });

const NOT_LET_IN = 401;

fetcher.use({
  async onResponse({ response }) {
    noteAnswer(response);
    // Shut out meanwhile: only the page where a code is typed is left.
    if (response.status === NOT_LET_IN) window.location.assign("/pair");
    if (!response.ok) throw await refusalOf(response);
    return response;
  },
  onError() {
    noteAway();
    return new ApiError(
      0,
      NO_SERVER,
      "The server does not answer.",
      "Check that Hakari is still running, then try again.",
      null,
    );
  },
});

async function refusalOf(response: Response): Promise<ApiError> {
  try {
    const said = (await response.json()) as Schemas["ErrorDocument"];
    return new ApiError(response.status, said.code, said.message, said.remedy, said.field ?? null);
  } catch {
    return new ApiError(response.status, "unreadable", "The server's answer could not be read.", "Try again.", null);
  }
}

export const api = fetcher;

/** The answer's data; a refusal was thrown before this. */
export function dataOf<T>(answer: { data?: T }): T {
  if (answer.data === undefined) throw new ApiError(0, "empty", "The server sent nothing back.", "Try again.", null);
  return answer.data;
}

/** The one of a resource that a path names. */
export const at = (id: number) => ({ params: { path: { id } } });

/** The pass that a request is about. */
export const ofPass = (pass_id: number | null | undefined) => ({ params: { query: { pass_id } } });

/** Text as a person typed it, sent where the types say number: the server reads "18,5", "203F" and "2:45". */
export const typed = (text: string) => text as unknown as number;

/** A chosen file sent as it is: the server reads it, and says what is wrong with it. */
export async function fileBody(file: File) {
  const body: unknown = await file.text();
  return {
    body: body as never,
    bodySerializer: (text: unknown) => String(text),
    headers: { "Content-Type": "application/json" },
  };
}

/** Send a form with a file; a refusal is thrown like any other. */
export async function sendForm<T>(address: string, form: FormData): Promise<T> {
  const response = await fetch(address, { method: "POST", body: form });
  if (!response.ok) throw await refusalOf(response);
  return (await response.json()) as T;
}

/** Send a form with progress of the sending; a refusal is thrown like any other, `lost` where nothing answers. */
export function sendWithProgress<T>(
  address: string,
  form: FormData,
  onSent: (share: number) => void,
  lost: string,
): Promise<T> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open("POST", address);
    request.upload.onprogress = (e) => onSent(e.lengthComputable ? e.loaded / e.total : 0);
    request.onerror = () =>
      reject(new ApiError(0, NO_SERVER, lost, "Check that Hakari is running, then send it again.", null));
    request.onload = () => {
      try {
        const said = JSON.parse(request.responseText);
        if (request.status < 300) resolve(said as T);
        else reject(new ApiError(request.status, said.code, said.message, said.remedy, said.field ?? null));
      } catch {
        reject(
          new ApiError(request.status, "unreadable", "The server's answer could not be read.", "Try again.", null),
        );
      }
    };
    request.send(form);
  });
}
