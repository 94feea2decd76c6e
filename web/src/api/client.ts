/** A refusal of the server: its sentence is meant for the person. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    sentence: string,
    readonly body: Record<string, unknown> = {},
  ) {
    super(sentence);
  }
}

export async function api<T>(path: string, init?: RequestInit): Promise<T> {
  let response: Response;
  try {
    response = await fetch(path, init);
  } catch {
    throw new ApiError(0, 'NO_SERVER', 'The server does not answer. Is it still running?');
  }
  const body = (await response.json().catch(() => ({}))) as Record<string, unknown>;
  if (!response.ok) throw refusalOf(response.status, body);
  return body as T;
}

function refusalOf(status: number, body: Record<string, unknown>): ApiError {
  const sentence = typeof body.error === 'string' ? body.error : `The server answered ${status}.`;
  return new ApiError(status, typeof body.code === 'string' ? body.code : String(status), sentence, body);
}

export function send<T>(method: 'POST' | 'PUT' | 'PATCH', path: string, body: unknown, keepalive = false): Promise<T> {
  return api<T>(path, {
    method,
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
    keepalive,
  });
}

/** Sends one file and reports how much of it has gone, 0..1. */
export function sendFile<T>(path: string, file: File, onProgress: (share: number) => void): Promise<T> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open('POST', path);
    request.responseType = 'json';
    request.upload.onprogress = (event) => onProgress(event.lengthComputable ? event.loaded / event.total : 0);
    request.onerror = () => reject(new ApiError(0, 'NO_SERVER', 'The server does not answer. Is it still running?'));
    request.onload = () => {
      const body = (request.response ?? {}) as Record<string, unknown>;
      if (request.status < 300) resolve(body as T);
      else reject(refusalOf(request.status, body));
    };
    const form = new FormData();
    form.append('file', file, file.name);
    request.send(form);
  });
}
