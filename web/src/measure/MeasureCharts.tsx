import type { Prescription } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { useMeasureView } from './measureView';
import { DetailChart } from './DetailChart';
import { ToneChart } from './ToneChart';

/** What stands under the Reading in the Measure step. */
export function MeasureCharts({ frame, prescription }: { frame: FrameDetail; prescription: Prescription }) {
  const { showsClipping, setShowsClipping } = useMeasureView();
  return (
    <>
      {prescription.reading && <DetailChart reading={prescription.reading} />}
      <ToneChart frame={frame} showsClipping={showsClipping} onShowClipping={setShowsClipping} />
    </>
  );
}
