/** For the page: the shapes of what the server answers, types only. */
export type { SheetFrame } from './db/sheets';
export type { FrameChange } from './db/frames';
export type { TrashedFrame, TrashedShoot } from './db/trash';
export type { Emptied } from './originals/emptyTrash';
export type { FrameSummary, ShootDetail, ShootSummary } from './routes/views';
export type { RenderJob, RenderState } from './db/renderJobs';
export type { FirstReading } from './db/readings';
export type { OutsideVersion } from './db/outsideVersions';
export type { SavedPrescription } from './db/prescriptions';
export type { Change } from './events/changes';
export type { ListedKept } from './db/keptPrescriptions';
export type { Outcome, RoundJob, RoundState } from './db/rounds';
export type { HandOff, HandOffFile } from './db/handOffs';
export type { HandOffDetail } from './routes/handOffs';
export type { RoundDetail, RoundSummary } from './routes/rounds';
export type { PracticeCase } from './db/practice';
export type { ChallengeSummary, PracticeSummary } from './routes/practice';
export type { PracticeGrade } from '@vitrocept/files';
