import type { Crew } from './crew/crew';
import type { DataFolder } from './dataFolder';
import type { Stores } from './db/stores';
import type { Changes } from './events/changes';
import type { WatchedFolders } from './handOff/watchedFolders';
import type { RoundRunner } from './rounds/runner';

/** Work in the background, one thing after the other. */
export interface Background {
  wake(): void;
  /** Resolves when nothing waits any more. */
  idle(): Promise<void>;
}

/** Renders waiting jobs one after the other; the tiles of one job are spread over the crew. */
export interface RenderQueue extends Background {
  stop(id: string): void;
}

/** Everything the routes work with. */
export interface Services {
  readonly folder: DataFolder;
  readonly stores: Stores;
  readonly changes: Changes;
  readonly crew: Crew;
  /** Takes the first reading of every frame that waits for one. */
  readonly readings: Background;
  readonly renders: RenderQueue;
  readonly rounds: RoundRunner;
  readonly handOffs: WatchedFolders;
  readonly log: (line: string) => void;
  readonly closing: boolean;
  /** Called when something was written to `derived/`. */
  makeRoom(): void;
  close(): Promise<void>;
}
