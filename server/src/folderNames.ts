import { resolve, sep } from 'node:path';

const MOST_LETTERS = 80;
const FORBIDDEN = /[\\/:*?"<>|\p{Cc}]/u;

/** As a folder is called that somebody named: blanks round a name are no part of it. */
export const folderCalled = (name: string): string => name.trim();

/** What is wrong with the name of one folder under another, as a sentence; null: nothing. */
export function folderNameFault(name: string): string | null {
  const own = folderCalled(name);
  if (own.length > MOST_LETTERS) return `a folder’s name has ${MOST_LETTERS} letters at most`;
  if (FORBIDDEN.test(own)) return 'a folder is one name, without / or \\';
  if (own.startsWith('.')) return 'a folder must not begin with a dot';
  return null;
}

/**
 * The place of a named folder under another, whoever wrote the name down; the other itself where the name is empty.
 *
 * @throws Error where it would lie anywhere else.
 */
export function folderUnder(root: string, name: string): string {
  const place = resolve(root, name);
  const isUnder = place === resolve(root) ? name === '' : place.startsWith(resolve(root) + sep);
  if (!isUnder || folderNameFault(name)) throw new Error(`“${name}” is no name of a folder.`);
  return place;
}
