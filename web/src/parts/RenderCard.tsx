import Button from 'react-bootstrap/Button';
import { Link } from 'react-router';
import { SAVE_FORMAT_DESCRIPTIONS } from '@vitrocept/core';
import type { RenderJob } from '@vitrocept/server';
import { useRenderAct } from '../api/queries';
import { bytesText, timeLeft } from '../words';

const STATE_WORDS: Record<RenderJob['state'], string> = {
  queued: 'waiting',
  running: 'rendering',
  done: 'done',
  failed: 'failed',
  stopped: 'stopped',
};

/** One render with its progress, time left, stop, retry and the finished file. */
export function RenderCard({ job, showsFrame = false }: { job: RenderJob; showsFrame?: boolean }) {
  const act = useRenderAct();
  const isRunning = job.state === 'running';
  return (
    <article className="card-plain render-card" aria-label={`Render of ${job.frameName}`} data-state={job.state}>
      <div>
        <strong>{job.fileName ?? job.frameName}</strong>{' '}
        <span className="text-soft">
          {job.stages.length > 1 ? `${job.stages.length} stages` : job.stages[0]} ·{' '}
          {SAVE_FORMAT_DESCRIPTIONS[job.format].name}
          {job.format === 'jpeg' && ` ${job.quality}`} · {STATE_WORDS[job.state]}
          {job.fileBytes !== null && ` · ${bytesText(job.fileBytes)}`}
        </span>
        {showsFrame && (
          <>
            {' '}
            <Link to={`/frames/${job.frameId}/hand-over`}>to the frame</Link>
          </>
        )}
      </div>
      {isRunning && (
        <div className="render-progress">
          <progress value={job.tilesDone} max={Math.max(1, job.tilesAll)} aria-label="Progress" />
          <span className="figure">
            {job.tilesDone} of {job.tilesAll} tiles · {remaining(job)}
          </span>
        </div>
      )}
      {job.error && <p className="text-damaged">{job.error}</p>}
      <div className="tray-buttons">
        {(isRunning || job.state === 'queued') && (
          <Button
            size="sm"
            variant="outline-primary"
            disabled={act.isPending}
            onClick={() => act.mutate({ id: job.id, act: 'stop' })}
          >
            Stop
          </Button>
        )}
        {(job.state === 'failed' || job.state === 'stopped') && (
          <Button
            size="sm"
            variant="outline-primary"
            disabled={act.isPending}
            onClick={() => act.mutate({ id: job.id, act: 'retry' })}
          >
            Try again
          </Button>
        )}
        {job.state === 'done' && (
          <a className="btn btn-sm btn-primary" href={`/api/renders/${job.id}/file`} download>
            Download
          </a>
        )}
        {job.state === 'done' && (
          <a className="btn btn-sm btn-outline-primary" href={`/api/renders/${job.id}/prescription.json`} download>
            prescription
          </a>
        )}
        {job.state === 'done' &&
          (['pdf', 'png'] as const).map((as) => (
            <a
              key={as}
              className="btn btn-sm btn-outline-primary"
              href={`/api/renders/${job.id}/proof.${as}`}
              title="Before and after, the audit, what was done in words, and the hashes of both files"
              download
            >
              proof {as.toUpperCase()}
            </a>
          ))}
      </div>
      {act.error && (
        <p className="text-damaged" role="alert">
          {act.error.message}
        </p>
      )}
    </article>
  );
}

function remaining({ startedAt, tilesDone, tilesAll }: RenderJob): string {
  if (!startedAt || tilesAll === 0) return 'starting';
  if (tilesDone === tilesAll) return 'writing the file';
  if (tilesDone === 0) return 'estimating';
  const spent = (Date.now() - Date.parse(startedAt)) / 1000;
  return timeLeft((spent / tilesDone) * (tilesAll - tilesDone));
}
