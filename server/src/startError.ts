/** Why the server cannot start, as a sentence with a way out. */
export class StartError extends Error {}

/** What the system says of a folder or file, in words. */
export function startErrorOf(error: unknown, place: string): unknown {
  const { code } = error as NodeJS.ErrnoException;
  if (code === 'EACCES' || code === 'EPERM' || code === 'EROFS' || code === 'SQLITE_READONLY' || code === 'ENOENT') {
    return new StartError(
      `The data folder ${place} cannot be written to. Check its permissions, or choose another: VITROCEPT_DATA=… npm start`,
    );
  }
  if (code === 'ENOTDIR' || code === 'EEXIST')
    return new StartError(`${place} is not a folder. Choose another data folder: VITROCEPT_DATA=… npm start`);
  if (code === 'ENOSPC' || code === 'SQLITE_FULL')
    return new StartError(`The disk that holds ${place} is full. Make room and start again.`);
  return error;
}
