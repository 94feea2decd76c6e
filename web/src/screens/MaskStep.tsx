import type Konva from 'konva';
import { useCallback, useEffect, useRef, useState } from 'react';
import Button from 'react-bootstrap/Button';
import ButtonGroup from 'react-bootstrap/ButtonGroup';
import { Circle, Image as KonvaImage, Layer } from 'react-konva';
import { wholeOf, type Dab, type MaskOperation, type Prescription } from '@vitrocept/core';
import { OperationList } from '../parts/OperationList';
import { isTyping } from '../parts/keys';
import { SettingSlider } from '../parts/SettingSlider';
import { useBrushStore, type MaskView } from '../stores/brushStore';
import { useFrameStore } from '../stores/frameStore';
import { FrameSurface, type SurfacePointer } from '../surfaces/FrameSurface';
import { MaskPainter, type Rect } from '../surfaces/MaskPainter';
import { tileEngine } from '../surfaces/tileEngine';
import { paintVeil } from '../surfaces/veil';
import { LeftCard, useWorkspace } from './FrameWorkspace';

const VEIL_SIDE = 1600;
const VIEWS: readonly (readonly [MaskView, string])[] = [
  ['tracing', 'Tracing paper'],
  ['contours', 'Contours'],
  ['mask', 'Plain mask'],
  ['picture', 'Picture only'],
];

function withOperations(
  old: Prescription,
  act: (operations: readonly MaskOperation[]) => MaskOperation[],
): Prescription {
  return { ...old, mask: { ...old.mask, operations: act(old.mask.operations) } };
}

/** Where the correction acts: painted with a brush, everything else stays untouched. */
export function MaskStep() {
  const { frame, prescription } = useWorkspace();
  const change = useFrameStore((state) => state.change);
  const brush = useBrushStore();
  const { operations } = prescription.mask;
  const [veil] = useState(() => document.createElement('canvas'));
  const painter = useRef<MaskPainter | null>(null);
  /** The operations that the painter already shows, so that an own stroke is not drawn again. */
  const painted = useRef<readonly MaskOperation[] | null>(null);
  const layer = useRef<Konva.Layer>(null);
  const stroke = useRef<number[] | null>(null);
  const lastEnd = useRef<{ x: number; y: number } | null>(null);
  const [hand, setHand] = useState<{ x: number; y: number } | null>(null);
  const [isReady, setReady] = useState(false);
  const [search, setSearch] = useState<'idle' | 'searching' | string>('idle');
  /** Only the last search counts. */
  const lastSearch = useRef(0);
  /** The dabs of a search that is under way: the next dab joins them. */
  const pending = useRef<readonly Dab[] | null>(null);

  const repaint = useCallback(
    (area?: Rect | null) => {
      if (!painter.current || area === null) return;
      paintVeil(veil, painter.current, useBrushStore.getState().view, area);
      layer.current?.batchDraw();
    },
    [veil],
  );

  useEffect(() => {
    if (painted.current === operations) return;
    let isCurrent = true;
    const scale = Math.min(1, VEIL_SIDE / Math.max(frame.width, frame.height));
    void tileEngine.drawMask({ operations, region: wholeOf(frame), scale }).then(({ width, height, values }) => {
      if (!isCurrent) return;
      painter.current = new MaskPainter(width, height, scale, values);
      painted.current = operations;
      veil.width = width;
      veil.height = height;
      setReady(true);
      repaint();
    });
    return () => {
      isCurrent = false;
    };
  }, [operations, frame, veil, repaint]);

  useEffect(() => repaint(), [brush.view, repaint, isReady]);

  const find = async (dabs: readonly Dab[]) => {
    const own = ++lastSearch.current;
    pending.current = dabs;
    setSearch('searching');
    let outcome = 'idle';
    try {
      const area = await tileEngine.findSubject({ frame, dabs });
      if (own !== lastSearch.current) return;
      if (useFrameStore.getState().frame?.id === frame.id) {
        change((old) => withOperations(old, (list) => withSubject(list, area)));
      }
    } catch (error) {
      outcome = `The search failed: ${(error as Error).message}`;
    }
    if (own !== lastSearch.current) return;
    pending.current = null;
    setSearch(outcome);
  };

  const saveAsPng = async () => {
    await useFrameStore.getState().saveNow();
    window.location.assign(`/api/frames/${frame.id}/mask.png`);
  };

  const onPointer = ({ kind, x, y, isShiftDown }: SurfacePointer) => {
    setHand(kind === 'leave' ? null : { x, y });
    const tool = painter.current;
    if (!tool) return;
    const { mode, sizePx, featherPercent, opacityPercent } = brush;
    if (mode === 'subject' || mode === 'not-subject') {
      if (kind !== 'down') return;
      const dab = { x: round(x), y: round(y), radius: sizePx / 2, isSubject: mode === 'subject' };
      void find([...(pending.current ?? dabsOf(operations)), dab]);
      return;
    }
    if (kind === 'down') {
      // With Shift a straight line from where the last stroke ended.
      const from = isShiftDown && lastEnd.current ? lastEnd.current : { x: round(x), y: round(y) };
      stroke.current = [from.x, from.y];
      repaint(tool.begin({ mode, sizePx, featherPercent, opacityPercent }, from.x, from.y));
      if (from.x !== round(x) || from.y !== round(y)) {
        stroke.current.push(round(x), round(y));
        repaint(tool.extend(round(x), round(y)));
      }
    } else if (kind === 'move' && stroke.current) {
      const points = stroke.current;
      // Closer points would not show but would make the mask heavier.
      if (Math.hypot(x - points[points.length - 2], y - points[points.length - 1]) < Math.max(1, sizePx / 16)) return;
      points.push(round(x), round(y));
      repaint(tool.extend(round(x), round(y)));
    } else if (stroke.current) {
      const points = stroke.current;
      stroke.current = null;
      lastEnd.current = { x: points[points.length - 2], y: points[points.length - 1] };
      tool.end();
      change((old) =>
        withOperations(old, (list) => {
          const own = opacityPercent < 100 ? { opacityPercent } : {};
          const next = [...list, { kind: 'stroke' as const, mode, sizePx, featherPercent, ...own, points }];
          painted.current = next;
          return next;
        }),
      );
    }
  };

  const findAnew = useRef(() => find([]));
  useEffect(() => {
    findAnew.current = () => find([]);
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isTyping(event) || event.ctrlKey || event.metaKey) return;
      const { sizePx, view, set } = useBrushStore.getState();
      const next = VIEWS[(VIEWS.findIndex(([name]) => name === view) + 1) % VIEWS.length][0];
      const act = {
        p: () => set({ mode: 'add' }),
        x: () => set({ mode: 'erase' }),
        t: () => set({ mode: 'subject' }),
        n: () => set({ mode: 'not-subject' }),
        s: () => void findAnew.current(),
        '[': () => set({ sizePx: Math.max(2, Math.round(sizePx / 1.2)) }),
        ']': () => set({ sizePx: Math.min(2000, Math.round(sizePx * 1.2)) }),
        v: () => set({ view: next }),
      }[event.key.toLowerCase()];
      act?.();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);

  const isEmpty = operations.length === 0;
  return (
    <>
      <div className="stage">
        <FrameSurface
          frame={frame}
          label="The frame and its mask"
          cursor="none"
          onPointer={onPointer}
          overlay={({ scale, x, y }) => (
            <Layer ref={layer} listening={false} imageSmoothingEnabled>
              {isReady && brush.view !== 'picture' && !(isEmpty && brush.view === 'tracing' && !stroke.current) && (
                <KonvaImage image={veil} x={x} y={y} width={frame.width * scale} height={frame.height * scale} />
              )}
              {hand && (
                <>
                  <Circle
                    x={x + (hand.x + 0.5) * scale}
                    y={y + (hand.y + 0.5) * scale}
                    radius={(brush.sizePx / 2) * scale}
                    stroke="#fff"
                    strokeWidth={2.5}
                  />
                  <Circle
                    x={x + (hand.x + 0.5) * scale}
                    y={y + (hand.y + 0.5) * scale}
                    radius={(brush.sizePx / 2) * scale}
                    stroke="#1C1F1E"
                    strokeWidth={1}
                    dash={brush.mode === 'erase' || brush.mode === 'not-subject' ? [4, 4] : undefined}
                  />
                </>
              )}
            </Layer>
          )}
        />
        {search !== 'idle' && (
          <div className="stage-hint" role="status">
            {search === 'searching' ? 'Finding the subject …' : search}
          </div>
        )}
        {isEmpty && search === 'idle' && (
          <div className="stage-hint">
            Find the subject, or paint over it. Without a mask the whole frame is recovered, its background too.
          </div>
        )}
      </div>
      <LeftCard>
        <OperationList
          operations={operations}
          onChange={(next) => change((old) => withOperations(old, () => [...next]))}
        />
      </LeftCard>
      <section className="tray" aria-label="Tray">
        <div className="tray-block">
          <strong>Subject</strong>
          <Button size="sm" disabled={search === 'searching'} onClick={() => void find([])}>
            Find subject <kbd>S</kbd>
          </Button>
          <ButtonGroup size="sm" aria-label="Point at">
            <Button
              variant={brush.mode === 'subject' ? 'primary' : 'outline-primary'}
              aria-pressed={brush.mode === 'subject'}
              onClick={() => brush.set({ mode: 'subject' })}
            >
              This <kbd>T</kbd>
            </Button>
            <Button
              variant={brush.mode === 'not-subject' ? 'primary' : 'outline-primary'}
              aria-pressed={brush.mode === 'not-subject'}
              onClick={() => brush.set({ mode: 'not-subject' })}
            >
              Not this <kbd>N</kbd>
            </Button>
          </ButtonGroup>
          <p className="hint">Press on what was missed or taken wrongly; it is found again.</p>
        </div>
        <div className="tray-block">
          <strong>Brush</strong>
          <ButtonGroup size="sm" aria-label="Brush">
            <Button
              variant={brush.mode === 'add' ? 'primary' : 'outline-primary'}
              aria-pressed={brush.mode === 'add'}
              onClick={() => brush.set({ mode: 'add' })}
            >
              Add <kbd>P</kbd>
            </Button>
            <Button
              variant={brush.mode === 'erase' ? 'primary' : 'outline-primary'}
              aria-pressed={brush.mode === 'erase'}
              onClick={() => brush.set({ mode: 'erase' })}
            >
              Erase <kbd>X</kbd>
            </Button>
          </ButtonGroup>
        </div>
        <div className="mask-sliders">
          <SettingSlider
            name="Size"
            unit="px"
            value={brush.sizePx}
            least={2}
            most={1000}
            step={1}
            onChange={(sizePx) => brush.set({ sizePx })}
            help="Diameter in pixels of the frame"
          />
          <SettingSlider
            name="Feather"
            unit="%"
            value={brush.featherPercent}
            least={0}
            most={100}
            step={1}
            onChange={(featherPercent) => brush.set({ featherPercent })}
            help="0: hard edge; 100: falls off from the middle"
          />
          <SettingSlider
            name="Strength"
            unit="%"
            value={brush.opacityPercent}
            least={1}
            most={100}
            step={1}
            onChange={(opacityPercent) => brush.set({ opacityPercent })}
            help="How much one stroke adds or erases; Shift and press: a straight line"
          />
          <SettingSlider
            name="Opacity"
            unit="%"
            value={prescription.mask.opacityPercent}
            least={0}
            most={100}
            step={1}
            automatic={100}
            onChange={(opacityPercent) =>
              change((old) => ({ ...old, mask: { ...old.mask, opacityPercent } }), 'mask opacity')
            }
            help="How far the correction reaches under the whole mask"
          />
        </div>
        <div className="tray-block">
          <strong>Whole mask</strong>
          <div className="tray-buttons">
            <Button
              size="sm"
              variant="outline-primary"
              onClick={() => change((old) => withOperations(old, (list) => [...list, { kind: 'invert' }]))}
            >
              Invert
            </Button>
            <Button
              size="sm"
              variant="outline-primary"
              disabled={isEmpty}
              onClick={() => change((old) => withOperations(old, () => []))}
            >
              Clear
            </Button>
            <Button
              size="sm"
              variant="outline-primary"
              title="A grey PNG of the frame’s size, 16 bits, for other programs or the command line"
              onClick={() => void saveAsPng()}
            >
              Save as PNG
            </Button>
          </div>
        </div>
        <div className="tray-block">
          <label htmlFor="mask-view">View</label>
          <select
            id="mask-view"
            value={brush.view}
            onChange={(event) => brush.set({ view: event.target.value as MaskView })}
          >
            {VIEWS.map(([view, name]) => (
              <option key={view} value={view}>
                {name}
              </option>
            ))}
          </select>
        </div>
      </section>
    </>
  );
}

const dabsOf = (operations: readonly MaskOperation[]): readonly Dab[] =>
  operations.find((operation) => operation.kind === 'area')?.from.dabs ?? [];

/** The subject found anew takes the place of the one before; the first lies under everything painted. */
function withSubject(list: readonly MaskOperation[], area: MaskOperation): MaskOperation[] {
  const at = list.findIndex(({ kind }) => kind === 'area');
  return at < 0 ? [area, ...list] : list.map((other, i) => (i === at ? area : other));
}

/** Half a pixel of the frame is finer than any brush. */
const round = (value: number) => Math.round(value * 2) / 2;
