import createClient, { type Middleware } from "openapi-fetch";

import type { components, paths } from "./schema.gen";

export type Schemas = components["schemas"];
export type Problem = Schemas["Problem"];

/** What the server refused, and why; `status` 0 when it could not be reached. */
export class ApiError extends Error {
  readonly problem: Problem;

  constructor(problem: Problem) {
    super(problem.detail);
    this.problem = problem;
  }

  get status(): number {
    return this.problem.status;
  }
}

let csrfToken = "";

/** The token that changing requests repeat; known after signing in. */
export function setCsrfToken(token: string): void {
  csrfToken = token;
}

const guard: Middleware = {
  onRequest({ request }) {
    if (csrfToken) request.headers.set("X-CSRF-Token", csrfToken);
    return request;
  },
};

export const client = createClient<paths>({ baseUrl: "/" });
client.use(guard);

function problemOf(error: unknown, response: Response | undefined): Problem {
  if (typeof error === "object" && error !== null && "detail" in error)
    return { ...(error as Problem), notices: (error as Partial<Problem>).notices ?? [] };
  const status = response?.status ?? 0;
  return {
    type: "about:blank",
    title: "No answer",
    status,
    detail: `The server did not answer (${status}).`,
    notices: [],
  };
}

/** The data of an answer, or an ApiError. */
export async function answer<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let found: { data?: T; error?: unknown; response: Response };
  try {
    found = await call;
  } catch {
    throw new ApiError({
      type: "about:blank",
      title: "No answer",
      status: 0,
      detail: "The server cannot be reached. Nothing was changed; try again.",
      notices: [],
    });
  }
  if (!found.response.ok) throw new ApiError(problemOf(found.error, found.response));
  return found.data as T;
}

/** Post a form; `signal` cancels it. */
export async function postForm<T>(path: string, form: FormData, signal?: AbortSignal): Promise<T> {
  const headers = { "X-CSRF-Token": csrfToken };
  const send = async () => {
    const response = await fetch(path, { method: "POST", body: form, headers, signal: signal ?? null });
    const body: unknown = await response.json().catch(() => undefined);
    return response.ok ? { data: body as T, response } : { error: body, response };
  };
  return answer<T>(send());
}

/** Post a file with further form fields. */
export function postFile<T>(
  path: string,
  file: File,
  fields: Record<string, string | null>,
  signal?: AbortSignal,
): Promise<T> {
  const form = new FormData();
  form.append("file", file);
  for (const [name, value] of Object.entries(fields)) if (value !== null) form.append(name, value);
  return postForm<T>(path, form, signal);
}
