import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useDropzone } from 'react-dropzone';
import type { GridPlace } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { ApiError, sendFile } from '../api/client';

const MAP_WIDTH = 240;

/** Takes a version of this frame that was made elsewhere; says why when it does not lie on the frame, with the grid. */
export function VersionArea({ frame }: { frame: FrameDetail }) {
  const client = useQueryClient();
  const [share, setShare] = useState<number | null>(null);
  const [refusal, setRefusal] = useState<{ sentence: string; grid: readonly GridPlace[] } | null>(null);
  const bringIn = async (files: File[]) => {
    setRefusal(null);
    for (const file of files) {
      setShare(0);
      try {
        await sendFile(`/api/frames/${frame.id}/versions`, file, setShare);
      } catch (error) {
        const grid = error instanceof ApiError && Array.isArray(error.body.grid) ? error.body.grid : [];
        setRefusal({ sentence: `${file.name}: ${(error as Error).message}`, grid: grid as GridPlace[] });
      }
    }
    setShare(null);
    await client.invalidateQueries({ queryKey: ['versions', frame.id] });
  };
  const { getRootProps, getInputProps, open, isDragActive } = useDropzone({
    onDrop: (files) => void bringIn(files),
    noClick: true,
    noKeyboard: true,
  });
  return (
    <div {...getRootProps({ className: `version-area ${isDragActive ? 'is-over' : ''}` })}>
      <input {...getInputProps({ 'aria-label': 'Outside version to bring in' })} />
      {share === null ? (
        <button type="button" className="link-button" onClick={open}>
          Bring in an outside version
        </button>
      ) : (
        <span className="text-soft" role="status">
          {share < 1 ? `${Math.round(100 * share)} %` : 'being laid onto the frame …'}
        </span>
      )}
      {refusal && (
        <div className="card-plain version-refusal" role="alert">
          <p className="text-damaged">{refusal.sentence}</p>
          {refusal.grid.length > 0 && <GridMap frame={frame} grid={refusal.grid} />}
          <button type="button" className="link-button" onClick={() => setRefusal(null)}>
            close
          </button>
        </div>
      )}
    </div>
  );
}

/** What is left to move at every place, drawn ten times as long; a dash where nothing looks alike. */
function GridMap({ frame, grid }: { frame: FrameDetail; grid: readonly GridPlace[] }) {
  const scale = MAP_WIDTH / frame.width;
  return (
    <svg
      width={MAP_WIDTH}
      height={frame.height * scale}
      role="img"
      aria-label="How far each place is off, ten times as long"
    >
      <rect width={MAP_WIDTH} height={frame.height * scale} className="grid-ground" />
      {grid.map(({ x, y, left }) =>
        left ? (
          <g key={`${x} ${y}`} className="grid-move">
            <circle cx={x * scale} cy={y * scale} r={2} />
            <line x1={x * scale} y1={y * scale} x2={x * scale + 10 * left.x} y2={y * scale + 10 * left.y} />
          </g>
        ) : (
          <line
            key={`${x} ${y}`}
            className="grid-unknown"
            x1={x * scale - 4}
            x2={x * scale + 4}
            y1={y * scale}
            y2={y * scale}
          />
        ),
      )}
    </svg>
  );
}
