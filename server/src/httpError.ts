import type { FastifyInstance } from 'fastify';
import { CoreError } from '@vitrocept/core';
import { FileError } from '@vitrocept/files';
import { ValidationError } from 'yup';

/** A refusal with its HTTP status; the sentence is for the person. */
export class HttpError extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    sentence: string,
    readonly details: object = {},
  ) {
    super(sentence);
  }
}

export function notFound(what: string): HttpError {
  return new HttpError(404, 'NOT_FOUND', `There is no such ${what}.`);
}

/** What the database or the system says of the disk, as a sentence; nothing was half-written. */
function diskSentence(code: string | undefined): FileError | null {
  if (code === 'SQLITE_FULL' || code === 'ENOSPC')
    return new FileError(
      'DISK_FULL',
      'The disk is full. What you did is kept in this page: make room, it is saved then.',
    );
  if (code?.startsWith('SQLITE_READONLY') || code === 'SQLITE_CANTOPEN' || code === 'EROFS')
    return new FileError('DISK_READ_ONLY', 'The data folder cannot be written to. Check its permissions.');
  return null;
}

/** Every error leaves as { code, error }; only unexpected ones are logged, and none shows its inside. */
export function answerErrors(app: FastifyInstance, log: (line: string) => void): void {
  app.setErrorHandler((error: Error & { statusCode?: number; code?: string }, request, reply) => {
    if (error instanceof HttpError) {
      return reply.status(error.status).send({ code: error.code, error: error.message, ...error.details });
    }
    if (error instanceof FileError || error instanceof CoreError) {
      return reply.status(error.code.startsWith('DISK') ? 507 : 422).send({ code: error.code, error: error.message });
    }
    if (error instanceof ValidationError) {
      return reply.status(400).send({ code: 'BAD_REQUEST', error: `The request is not understood: ${error.message}.` });
    }
    const full = diskSentence(error.code);
    if (full) return reply.status(507).send({ code: full.code, error: full.message });
    if (error.statusCode && error.statusCode < 500) {
      return reply.status(error.statusCode).send({ code: error.code ?? 'BAD_REQUEST', error: error.message });
    }
    log(`${request.method} ${request.url}: ${error.stack ?? error.message}`);
    return reply
      .status(500)
      .send({ code: 'FAILED', error: 'Something went wrong inside Vitrocept; nothing was lost. Try again.' });
  });
  app.setNotFoundHandler((_request, reply) =>
    reply.status(404).send({ code: 'NOT_FOUND', error: 'There is nothing at this address.' }),
  );
}
