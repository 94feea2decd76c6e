import type { MultipartFile } from '@fastify/multipart';
import type { FastifyRequest } from 'fastify';
import { HttpError } from '../httpError';

/** The one file a request brings. @throws HttpError NO_FILE, also where the request is no proper upload */
export async function uploadedFile(request: FastifyRequest): Promise<MultipartFile> {
  let part: MultipartFile | undefined;
  try {
    part = await request.file();
  } catch (error) {
    const { message } = error as Error;
    throw new HttpError(400, 'NO_FILE', `The request holds no file that can be read: ${message.replace(/\.$/, '')}.`);
  }
  if (!part) throw new HttpError(400, 'NO_FILE', 'The request holds no file.');
  return part;
}
