/** Files dropped on the list of shoots wait here for the sheet of the shoot that was made for them. */
const waiting = new Map<string, File[]>();

export const filesForNextSheet = {
  give: (shootId: string, files: File[]) => void waiting.set(shootId, files),
  take(shootId: string): File[] {
    const files = waiting.get(shootId) ?? [];
    waiting.delete(shootId);
    return files;
  },
};
