import { centreBox } from '@vitrocept/core';
import { insideFrame, MeasuredBox, useBoxKeys } from './MeasuredBox';
import { MeasureHere } from './MeasureHere';
import { NoiseChart } from './NoiseChart';
import { Overrule } from './Overrule';
import { useFrameStore } from '../stores/frameStore';
import { useMeasureView } from './measureView';
import { BlurMap } from './BlurMap';
import { ClippingLayer } from './ClippingLayer';
import { PathMap } from './PathMap';
import { FrameSurface } from '../surfaces/FrameSurface';
import { useWorkspace } from '../parts/useWorkspace';
import { useLookAhead } from '../surfaces/useLookAhead';
import './measure.css';

/** What is wrong with the frame: measured over the mask or a box, overruled by hand where the eye knows better. */
export function Measure() {
  const { frame, prescription } = useWorkspace();
  const change = useFrameStore((state) => state.change);
  const { reading, mask } = prescription;
  const hasMask = mask.operations.length > 0;
  useLookAhead(frame, !hasMask);
  const box = prescription.box ?? centreBox(frame);
  const places = reading?.auto ? reading.sizes : [];
  const paths = reading?.method === 'camera-shake' ? (reading.path?.places ?? []) : [];
  const { showsClipping, showsMap } = useMeasureView();
  useBoxKeys(frame, hasMask);

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
        <MeasureHere frame={frame} prescription={prescription} hasPlaces={places.length > 0 || paths.length > 0} />
        {reading && <Overrule reading={reading} />}
        {reading && <NoiseChart noise={reading.noise} />}
      </section>
    </>
  );
}
