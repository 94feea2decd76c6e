import { useMutation } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import type Konva from 'konva';
import { Layer, Rect, Transformer } from 'react-konva';
import {
  acceptReading,
  BLUR_METHODS,
  centreBox,
  keyOfOperations,
  MOST_BLUR_PX,
  type AcceptedReading,
  type Box,
  type Method,
  type Reading,
  METHOD_DESCRIPTIONS,
  offered,
  withMeasuredReading,
  withReading,
  withReadingOverruled,
} from '@vitrocept/core';
import { send } from '../api/client';
import { NoiseChart } from './NoiseChart';
import { SettingSlider } from '../parts/SettingSlider';
import { useFrameStore } from '../stores/frameStore';
import { useMeasureView } from './measureView';
import { BlurMap, FIELD_MAGNIFIED } from './BlurMap';
import { ClippingLayer } from './ClippingLayer';
import { PathMap } from './PathMap';
import { FrameSurface, type Placement } from '../surfaces/FrameSurface';
import { causeSentence } from '../words';
import { useWorkspace } from '../parts/useWorkspace';
import { useLookAhead } from '../surfaces/useLookAhead';
import './measure.css';

/** What is wrong with the frame: measured over the mask or a box, overruled by hand where the eye knows better. */
export function Measure() {
  const { frame, prescription } = useWorkspace();
  const { change, changeIn } = useFrameStore();
  const { reading, mask } = prescription;
  const hasMask = mask.operations.length > 0;
  useLookAhead(frame, !hasMask);
  const box = prescription.box ?? centreBox(frame);
  const places = reading?.auto ? reading.sizes : [];
  const paths = reading?.method === 'camera-shake' ? (reading.path?.places ?? []) : [];
  const { showsClipping, showsMap, setShowsMap } = useMeasureView();
  const path = `/api/frames/${frame.id}/reading`;
  const measure = useMutation({
    mutationFn: async () => {
      // The answer may come when another frame, mask or box is on screen: it stays with what was measured.
      const kind = hasMask ? 'mask' : prescription.box ? 'box' : 'centre';
      const key = hasMask ? keyOfOperations(mask.operations) : '';
      const wish = hasMask ? { box: null, mask: mask.operations } : { box: prescription.box, mask: null };
      const found = await send<Reading>('POST', path, wish);
      changeIn(frame.id, (old) => withReading(old, acceptReading(found, { kind, key })));
    },
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const step = event.shiftKey ? 80 : 8;
      const by = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] }[event.key];
      const isElsewhere = event.target instanceof HTMLElement && event.target.closest('input, select');
      if (!by || hasMask || isElsewhere) return;
      event.preventDefault();
      change((old) => {
        const from = old.box ?? centreBox(frame);
        const next = event.altKey
          ? { ...from, width: from.width + by[0], height: from.height + by[1] }
          : { ...from, x: from.x + by[0], y: from.y + by[1] };
        return { ...old, box: insideFrame(next, frame) };
      }, 'box');
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [hasMask, change, frame]);
  const overrule = (part: Partial<AcceptedReading>, merge: string) =>
    change((old) => withReadingOverruled(old, part), merge);

  return (
    <>
      <div className="stage">
        <FrameSurface
          frame={frame}
          label="The frame and where it is measured"
          overlay={(placement) => (
            <>
              {showsClipping && <ClippingLayer frame={frame} placement={placement} />}
              {showsMap && places.length > 0 && <BlurMap frame={frame} places={places} placement={placement} />}
              {showsMap && paths.length > 0 && <PathMap places={paths} placement={placement} />}
              {!hasMask && (
                <MeasuredBox
                  box={box}
                  placement={placement}
                  onChange={(next) => change((old) => ({ ...old, box: insideFrame(next, frame) }), 'box')}
                />
              )}
            </>
          )}
        />
      </div>
      <section className="tray measure-tray" aria-label="Tray">
        <div className="tray-block">
          <strong>{hasMask ? `Over the mask “${mask.name}”` : 'Over the box'}</strong>
          <p className="hint">
            {hasMask
              ? 'Only what is masked is measured; the background is out of focus by design.'
              : 'Drag the box onto the subject. With a mask the reading can be surer; without one it never says more than 50 %.'}
          </p>
          <div className="tray-buttons">
            <Button size="sm" onClick={() => measure.mutate()} disabled={measure.isPending}>
              {measure.isPending ? 'Measuring …' : 'Measure here'}
            </Button>
            {!hasMask && prescription.box && (
              <Button size="sm" variant="outline-primary" onClick={() => change((old) => ({ ...old, box: null }))}>
                Box to the centre
              </Button>
            )}
          </div>
          {(places.length > 0 || paths.length > 0) && (
            <Form.Check
              type="switch"
              id="show-blur-map"
              label={`show the blur, ${FIELD_MAGNIFIED} × larger`}
              checked={showsMap}
              onChange={(event) => setShowsMap(event.target.checked)}
            />
          )}
          {measure.error && (
            <p className="text-damaged" role="alert">
              {measure.error.message}
            </p>
          )}
        </div>
        {reading && (
          <div className="tray-block overrule">
            <label htmlFor="cause">Cause of the blur</label>
            <select
              id="cause"
              value={reading.method ?? 'none'}
              onChange={(event) => {
                const method = event.target.value === 'none' ? null : (event.target.value as Method);
                overrule({ method, blurSizePx: method ? Math.max(0.5, reading.blurSizePx) : 0, sizes: [] }, '');
              }}
            >
              <option value="none">Nothing to recover</option>
              {offered(BLUR_METHODS, reading?.path).map((method) => (
                <option key={method} value={method}>
                  {METHOD_DESCRIPTIONS[method].name}
                </option>
              ))}
            </select>
            <div className="tray-buttons">
              {reading.auto ? (
                <span className="auto-mark">automatic</span>
              ) : (
                <Button size="sm" variant="outline-primary" onClick={() => change(withMeasuredReading)}>
                  Back to Automatic:{' '}
                  {causeSentence(reading.measured.method, reading.measured.blurSizePx, reading.measured.directionDeg)}
                </Button>
              )}
            </div>
          </div>
        )}
        {reading?.method && (
          <>
            <SettingSlider
              name="Blur size"
              unit="px"
              value={reading.blurSizePx}
              least={0.5}
              most={MOST_BLUR_PX}
              isFineBelow
              step={0.1}
              automatic={reading.measured.method === reading.method ? reading.measured.blurSizePx : undefined}
              onChange={(blurSizePx) => overrule({ blurSizePx, sizes: [] }, 'blur size')}
            />
            {reading.method === 'straight-movement' && (
              <SettingSlider
                name="Direction"
                unit="°"
                value={reading.directionDeg}
                least={0}
                most={179.9}
                step={0.5}
                automatic={reading.measured.method === reading.method ? reading.measured.directionDeg : undefined}
                onChange={(directionDeg) => overrule({ directionDeg }, 'direction')}
              />
            )}
          </>
        )}
        {reading && <NoiseChart noise={reading.noise} />}
      </section>
    </>
  );
}

function insideFrame(box: Box, frame: { width: number; height: number }): Box {
  const width = Math.min(frame.width, Math.max(64, Math.round(box.width)));
  const height = Math.min(frame.height, Math.max(64, Math.round(box.height)));
  return {
    x: Math.round(Math.min(frame.width - width, Math.max(0, box.x))),
    y: Math.round(Math.min(frame.height - height, Math.max(0, box.y))),
    width,
    height,
  };
}

function MeasuredBox({ box, placement, onChange }: { box: Box; placement: Placement; onChange(box: Box): void }) {
  const rect = useRef<Konva.Rect>(null);
  const handles = useRef<Konva.Transformer>(null);
  useEffect(() => {
    if (rect.current) handles.current?.nodes([rect.current]);
  }, []);
  const read = () => {
    const node = rect.current!;
    const { scale, x, y } = placement;
    const next = {
      x: (node.x() - x) / scale,
      y: (node.y() - y) / scale,
      width: (node.width() * node.scaleX()) / scale,
      height: (node.height() * node.scaleY()) / scale,
    };
    node.scale({ x: 1, y: 1 });
    onChange(next);
  };
  return (
    <Layer>
      <Rect
        ref={rect}
        x={placement.x + box.x * placement.scale}
        y={placement.y + box.y * placement.scale}
        width={box.width * placement.scale}
        height={box.height * placement.scale}
        stroke="#F7F7F5"
        strokeWidth={2}
        shadowColor="#1C1F1E"
        shadowBlur={3}
        shadowOpacity={1}
        shadowForStrokeEnabled
        strokeScaleEnabled={false}
        draggable
        onDragEnd={read}
        onTransformEnd={read}
      />
      <Transformer
        ref={handles}
        rotateEnabled={false}
        flipEnabled={false}
        borderEnabled={false}
        anchorSize={10}
        anchorStroke="#17695F"
        anchorFill="#F7F7F5"
        keepRatio={false}
      />
    </Layer>
  );
}
