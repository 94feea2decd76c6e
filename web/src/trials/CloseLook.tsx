import {
  useEffect,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
  type KeyboardEvent as ReactKeyboardEvent,
  type PointerEvent,
} from 'react';
import Button from 'react-bootstrap/Button';
import {
  atStage,
  AUDIT_MAPS,
  ciede2000,
  labOf,
  paintBack,
  srgbDecode,
  type AuditMap,
  type Prescription,
  type Probe,
  type Region,
} from '@vitrocept/core';
import type { WorkerFrame } from '@vitrocept/workers';
import { VerdictMark } from '../parts/AuditMarks';
import { PsfDrawing } from '../parts/PsfDrawing';
import { moveInGroup } from '../input/arrowKeys';
import { isTyping } from '../input/keys';
import { useFrameStore } from '../stores/frameStore';
import { MAGNIFICATIONS, useWallStore, type Magnification } from '../stores/wallStore';
import { drawAudit } from './drawAudit';
import { tileEngine } from '../surfaces/tileEngine';
import { layer, type Column } from '../surfaces/tileKeys';
import { figuresAt } from './useAudits';
import { drawTiles, pixelOf, useTiles } from '../surfaces/useTiles';
import { figureText, MEASURE_NAMES, MEASURES, worstSentence } from '../words';

const WAYS = {
  result: 'Result',
  divider: 'Divider',
  pair: 'Pair',
  blink: 'Blink',
  difference: 'Difference',
} as const;
type Way = keyof typeof WAYS;

const MAP_NAMES: Record<AuditMap, string> = {
  unproven: 'unproven detail',
  rim: 'rims of halos',
  drift: 'colour drift',
  leak: 'background beyond the mask',
};

const WIDTH = 640;
const HEIGHT = 560;
const USUAL_BLINKS = 1;
const DIFFERENCE_GAIN = 4;

interface CloseLookProps {
  readonly frame: WorkerFrame;
  readonly original: Prescription;
  readonly trial: Column;
  readonly title: string;
  readonly probe: Probe;
  readonly probeName: string;
  onClose(): void;
}

/** One cell large: against the original in five ways, the audit drawn over it, and the numbers under the pointer. */
export function CloseLook({ frame, original, trial, title, probe, probeName, onClose }: CloseLookProps) {
  const change = useFrameStore((state) => state.change);
  const { magnification, setMagnification, pans, pan, held } = useWallStore();
  const [way, setWay] = useState<Way>('divider');
  const [share, setShare] = useState(0.5);
  const [blinks, setBlinks] = useState(USUAL_BLINKS);
  const [map, setMap] = useState<AuditMap | null>('unproven');
  const [isOff, setIsOff] = useState(false);
  const [at, setAt] = useState<{ x: number; y: number } | null>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const drag = useRef<'divider' | { x: number; y: number } | null>(null);

  const scale = magnification / 100;
  const offset = pans[probe.id] ?? { x: 0, y: 0 };
  const wide = way === 'pair' ? WIDTH / 2 : WIDTH;
  const view: Region = {
    x: Math.floor(probe.x + offset.x - wide / scale / 2),
    y: Math.floor(probe.y + offset.y - HEIGHT / scale / 2),
    width: Math.ceil(wide / scale) + 1,
    height: Math.ceil(HEIGHT / scale) + 1,
  };
  const base = layer(frame, held ? atStage(trial, held) : original, view, 'final', 0);
  const finals = layer(frame, trial, view, 'final', 1);
  const version = useTiles([...base, ...finals]);
  const figures = figuresAt(frame, trial, probe);
  const blinkedAway = way === 'blink' && isOff;

  useEffect(() => {
    if (way !== 'blink') return;
    const timer = setInterval(() => setIsOff((off) => !off), 500 / blinks);
    return () => {
      clearInterval(timer);
      setIsOff(false);
    };
  }, [way, blinks]);

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === 'Escape' && !isTyping(event)) onClose();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [onClose]);

  useLayoutEffect(() => {
    const context = canvas.current?.getContext('2d', { willReadFrequently: true });
    if (!context) return;
    context.fillStyle = '#8c8c8c';
    context.fillRect(0, 0, WIDTH, HEIGHT);
    const drawResult = () => {
      const complete = drawTiles(context, finals, view.x, view.y, scale);
      const audits = finals.map(({ key }) => tileEngine.auditOf(key)).filter((audit) => audit !== null);
      if (map) drawAudit(context, audits, view, scale, map);
      return complete;
    };
    drawTiles(context, base, view.x, view.y, scale);
    if (held || blinkedAway) return;
    if (way === 'difference') {
      const before = context.getImageData(0, 0, WIDTH, HEIGHT);
      if (drawTiles(context, finals, view.x, view.y, scale)) showDifference(context, before);
      return;
    }
    context.save();
    if (way === 'divider' || way === 'pair') {
      const from = way === 'pair' ? WIDTH / 2 : share * WIDTH;
      context.beginPath();
      context.rect(from, 0, WIDTH - from, HEIGHT);
      context.clip();
      if (way === 'pair') {
        context.translate(WIDTH / 2, 0);
        context.fillRect(0, 0, WIDTH / 2, HEIGHT);
      }
    }
    drawResult();
    context.restore();
    if (way === 'divider' || way === 'pair') {
      context.fillStyle = '#ffffff';
      context.fillRect(Math.round(way === 'pair' ? WIDTH / 2 : share * WIDTH) - 1, 0, 2, HEIGHT);
    }
  });

  const onCanvasKey = (event: ReactKeyboardEvent<HTMLCanvasElement>) => {
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
    if (!by || event.ctrlKey || event.metaKey) return;
    event.preventDefault();
    event.stopPropagation();
    const isFar = event.shiftKey;
    if (way === 'divider' && by[0] !== 0 && !event.altKey)
      setShare(Math.min(1, Math.max(0, share + by[0] * (isFar ? 0.1 : 0.01))));
    else pan(probe.id, (by[0] * (isFar ? 80 : 8)) / scale, (by[1] * (isFar ? 80 : 8)) / scale);
  };
  const failure = finals.map(({ key }) => tileEngine.failureOf(key)).find((sentence) => sentence !== null);

  const placeOf = (event: PointerEvent<HTMLCanvasElement>) => {
    const bounds = event.currentTarget.getBoundingClientRect();
    const x = ((event.clientX - bounds.left) / bounds.width) * WIDTH;
    const y = ((event.clientY - bounds.top) / bounds.height) * HEIGHT;
    return { x, y };
  };
  const onMove = (event: PointerEvent<HTMLCanvasElement>) => {
    const { x, y } = placeOf(event);
    if (drag.current === 'divider') setShare(Math.min(1, Math.max(0, x / WIDTH)));
    else if (drag.current) {
      pan(probe.id, (drag.current.x - x) / scale, (drag.current.y - y) / scale);
      drag.current = { x, y };
    }
    const inner = way === 'pair' && x >= WIDTH / 2 ? x - WIDTH / 2 : x;
    setAt({ x: Math.floor(view.x + inner / scale), y: Math.floor(view.y + y / scale) });
  };

  const numbers = useMemo(() => {
    if (!at) return null;
    const [before, after] = [pixelOf(base, at.x, at.y), pixelOf(finals, at.x, at.y)];
    if (!before || !after) return null;
    const [p, q] = [before, after].map(([r, g, b]) =>
      labOf(srgbDecode(r / 255), srgbDecode(g / 255), srgbDecode(b / 255)),
    );
    return { before, after, p, q, difference: ciede2000(p, q) };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- tiles follow from the rest
  }, [at, version, trial]);

  return (
    <section className="close-look" aria-label="Close look">
      <div className="close-look-head">
        <strong>{title}</strong>
        <span className="text-soft">at {probeName}</span>
        <div className="way-buttons" role="radiogroup" aria-label="How to compare" onKeyDown={moveInGroup}>
          {(Object.keys(WAYS) as Way[]).map((value) => (
            <button
              key={value}
              type="button"
              role="radio"
              aria-checked={way === value}
              tabIndex={way === value ? 0 : -1}
              onClick={() => setWay(value)}
            >
              {WAYS[value]}
            </button>
          ))}
        </div>
        {way === 'blink' && (
          <label className="blink-rate">
            <input
              type="range"
              min={0.3}
              max={2.8}
              step={0.1}
              value={blinks}
              aria-label="Blinks a second"
              onChange={(event) => setBlinks(Number(event.target.value))}
            />
            <span className="figure">{blinks.toFixed(1)} a second</span>
          </label>
        )}
        <label>
          drawn{' '}
          <select
            aria-label="Drawn over the pixels"
            value={map ?? ''}
            onChange={(event) => setMap((event.target.value || null) as AuditMap | null)}
          >
            {AUDIT_MAPS.map((value) => (
              <option key={value} value={value}>
                {MAP_NAMES[value]}
              </option>
            ))}
            <option value="">nothing</option>
          </select>
        </label>
        <select
          aria-label="Magnification of the close look"
          value={magnification}
          onChange={(event) => setMagnification(Number(event.target.value) as Magnification)}
        >
          {MAGNIFICATIONS.map((value) => (
            <option key={value} value={value}>
              {value} %
            </option>
          ))}
        </select>
        <Button size="sm" variant="outline-primary" onClick={onClose}>
          Back to the Wall <kbd>Esc</kbd>
        </Button>
      </div>
      <div className="close-look-body">
        <div>
          <canvas
            ref={canvas}
            width={WIDTH}
            height={HEIGHT}
            role="img"
            aria-label={`${title} at ${probeName}, ${WAYS[way]}`}
            tabIndex={0}
            onKeyDown={onCanvasKey}
            onPointerDown={(event) => {
              event.currentTarget.setPointerCapture(event.pointerId);
              const { x, y } = placeOf(event);
              drag.current = way === 'divider' && Math.abs(x - share * WIDTH) < 12 ? 'divider' : { x, y };
            }}
            onPointerMove={onMove}
            onPointerUp={() => (drag.current = null)}
            onPointerCancel={() => (drag.current = null)}
            onPointerLeave={() => setAt(null)}
          />
          <p className="pixel-numbers figure" aria-live="off">
            {numbers && at
              ? `${at.x}, ${at.y}   original ${numbers.before.join(' ')} · L* ${numbers.p.l.toFixed(1)} a* ${numbers.p.a.toFixed(1)} b* ${numbers.p.b.toFixed(1)}   result ${numbers.after.join(' ')} · L* ${numbers.q.l.toFixed(1)} a* ${numbers.q.a.toFixed(1)} b* ${numbers.q.b.toFixed(1)}   ΔE₀₀ ${numbers.difference.toFixed(1)}`
              : way === 'difference'
                ? `grey is unchanged; the difference is shown ${DIFFERENCE_GAIN} times as strong`
                : 'point at a pixel for its numbers; drag to pan'}
          </p>
        </div>
        <aside className="close-look-audit" aria-label="Audit at this probe">
          {figures ? (
            <>
              <p>{worstSentence(figures, 'Here')}</p>
              <dl>
                {MEASURES.map((measure) => {
                  const figure = figures[measure];
                  return (
                    <div key={measure}>
                      <dt>
                        <VerdictMark verdict={figure.verdict} /> {MEASURE_NAMES[measure]}
                      </dt>
                      <dd>
                        <span className="figure">{figureText(measure, figure)}</span>{' '}
                        <span className="text-soft">
                          {figure.verdict === 'not measurable' ? 'not measurable here' : figure.verdict}
                        </span>
                        {figure.at && (figure.verdict === 'check' || figure.verdict === 'damaged') && (
                          <span className="mark-acts">
                            <button
                              type="button"
                              className="link-button"
                              onClick={() =>
                                pan(probe.id, figure.at!.x - probe.x - offset.x, figure.at!.y - probe.y - offset.y)
                              }
                            >
                              go there
                            </button>
                            {!trial.outside && (
                              <button
                                type="button"
                                className="link-button"
                                onClick={() => change((old) => paintBack(old, figure.at!, 24))}
                              >
                                paint original back here
                              </button>
                            )}
                          </span>
                        )}
                      </dd>
                    </div>
                  );
                })}
                <div>
                  <dt>Detail gained</dt>
                  <dd className="figure">
                    {figures.gain
                      ? `edges ${figures.gain.before.toFixed(1)} → ${figures.gain.after.toFixed(1)} px`
                      : 'too few edges'}
                  </dd>
                </div>
              </dl>
              <FittedNote parts={finals.map(({ key }) => key)} />
              <p className="text-soft">
                A mark says that the photograph does not back a place, not that it is wrong. One stroke: check. A cross:
                damaged. Judged at full strength.
              </p>
            </>
          ) : (
            <Unfinished failure={failure ?? null} text="being audited …" />
          )}
        </aside>
      </div>
    </section>
  );
}

/** What is still being computed, or why it cannot be and a way to try again. */
export function Unfinished({ failure, text }: { failure: string | null; text: string }) {
  if (!failure) return <span className="text-soft">{text}</span>;
  return (
    <span className="text-damaged" role="alert">
      {failure}{' '}
      <button type="button" className="link-button" onClick={() => tileEngine.retry()}>
        Try again
      </button>
    </span>
  );
}

/** How far a change without a blur model can be told as blur taken back. */
function FittedNote({ parts }: { parts: readonly string[] }) {
  const fitted = parts.map((key) => tileEngine.auditOf(key)?.fitted).find((blur) => blur);
  if (!fitted) return null;
  const { psf, takenBack } = fitted;
  const path = { side: psf.width, lengthPx: 1, values: Array.from(psf.data) };
  return (
    <p className="fitted-note">
      <PsfDrawing method="camera-shake" blurSizePx={psf.width} directionDeg={0} path={path} side={64} />
      <span>
        Taken back: <span className="figure">{Math.round(100 * takenBack)} %</span> of the change can be told as a blur
        undone{takenBack < 0.6 ? '; too little to vouch for detail' : ''}. Drawn: that blur.
      </span>
    </p>
  );
}

function showDifference(context: CanvasRenderingContext2D, before: ImageData): void {
  const after = context.getImageData(0, 0, WIDTH, HEIGHT);
  for (let i = 0; i < after.data.length; i += 4) {
    for (let c = 0; c < 3; c++) {
      after.data[i + c] = 128 + DIFFERENCE_GAIN * (after.data[i + c] - before.data[i + c]);
    }
  }
  context.putImageData(after, 0, 0);
}
