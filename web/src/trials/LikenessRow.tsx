import { useLayoutEffect, useRef } from 'react';
import type { PartFigure, PartLikeness } from '@vitrocept/core';
import type { Layered } from '../surfaces/tileKeys';
import { drawTiles } from '../surfaces/useTiles';
import type { JudgedPart } from './useLikeness';
import { likenessSentence } from '../words';
import { VerdictMark } from '../parts/AuditMarks';

const CROP = { width: 120, height: 84 };

interface LikenessRowProps {
  readonly judged: JudgedPart;
  readonly title: string;
  onRemove(): void;
}

/** One part of a face: as taken and as the trial shows it, side by side, and what differs. */
export function LikenessRow({ judged, title, onRemove }: LikenessRowProps) {
  const { part, before, after, likeness, failure, again } = judged;
  return (
    <div className="likeness-row" role="listitem" aria-label={part.part}>
      <div className="likeness-name">
        <strong>{part.part}</strong>
        <button type="button" className="link-button" onClick={onRemove} aria-label={`Remove the ${part.part}`}>
          remove
        </button>
      </div>
      <PartCrop part={part} tiles={before} label={`${part.part} as taken`} />
      <PartCrop part={part} tiles={after} label={`${part.part} in ${title}`} />
      {likeness ? (
        <LikenessFigures likeness={likeness} />
      ) : (
        <p className="text-soft">
          {failure ? `could not be judged: ${failure} ` : 'being judged …'}
          {failure && (
            <button type="button" className="link-button" onClick={again}>
              Try again
            </button>
          )}
        </p>
      )}
    </div>
  );
}

function LikenessFigures({ likeness }: { likeness: PartLikeness }) {
  const rows: [string, PartFigure, (value: number) => string][] = [
    ['shift', likeness.shift, (value) => `${value.toFixed(1)} %`],
    ['hue', likeness.hue, (value) => value.toFixed(1)],
    ['structure', likeness.structure, (value) => (1 - value).toFixed(2)],
  ];
  return (
    <div>
      <dl className="likeness-figures">
        {rows.map(([name, figure, text]) => (
          <div key={name}>
            <dt>
              <VerdictMark verdict={figure.verdict} /> {name}
            </dt>
            <dd className="figure">{figure.verdict === 'not measurable' ? '–' : text(figure.value)}</dd>
          </div>
        ))}
      </dl>
      <p className="text-soft">{likenessSentence(likeness)}</p>
    </div>
  );
}

interface PartCropProps {
  readonly part: JudgedPart['part'];
  readonly tiles: readonly Layered[];
  readonly label: string;
}

function PartCrop({ part, tiles, label }: PartCropProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const scale = Math.min(CROP.width / (2.6 * part.rx), CROP.height / (2.6 * part.ry), 8);
  const left = part.x + 0.5 - CROP.width / 2 / scale;
  const top = part.y + 0.5 - CROP.height / 2 / scale;
  useLayoutEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context) return;
    context.fillStyle = '#8c8c8c';
    context.fillRect(0, 0, CROP.width, CROP.height);
    drawTiles(context, tiles, left, top, scale);
  });
  return <canvas ref={canvas} {...CROP} role="img" aria-label={label} />;
}
