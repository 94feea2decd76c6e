import { contentKey } from '../contentKey';
import { correctLight } from '../correct/correctLight';
import type { FrameGuide } from '../correct/guide';
import { CoreError } from '../errors';
import { finishLook, needsGuide } from '../finish/finishLook';
import { keyOfOperations } from '../mask/area';
import { mayCover } from '../mask/drawMask';
import { keptWith } from '../picture/kept';
import { wholeOf } from '../picture/region';
import { changesLight, type Corrections } from '../prescription/corrections';
import { actingChanges, changesLook, WHOLE_KEYS, type Finishing } from '../prescription/finishing';
import type { FrameStage, RenderSource } from './stage';

export interface FinishSettings {
  readonly finishing: Finishing;
  /** What the picture that is finished was corrected by; null: nothing. */
  readonly corrections: Corrections | null;
}

/** What guides the eye: of the whole, and under masks. */
export const finishStage: FrameStage<FinishSettings> = {
  name: 'finish',

  settingsOf: ({ finishing, corrections }) =>
    finishing && changesLook(finishing)
      ? { finishing, corrections: corrections && changesLight(corrections) ? corrections : null }
      : null,

  reach: () => 0,

  regionNeeded: (_settings, wanted) => wanted,

  keyOf: ({ finishing, corrections }) => [
    WHOLE_KEYS.map((key) => finishing[key]),
    actingChanges(finishing).map(({ mask, ...change }) => [
      change,
      mask.opacityPercent,
      keyOfOperations(mask.operations),
    ]),
    needsGuide(finishing) ? corrections : null,
  ],

  touches({ finishing }, region) {
    if (WHOLE_KEYS.some((key) => finishing[key] !== 0)) return true;
    return actingChanges(finishing).some(({ mask }) => mayCover(mask.operations, region));
  },

  apply({ region, planes, touched, solved }, settings, _wanted, { source }) {
    const { finishing } = settings;
    const guide = needsGuide(finishing) ? guideAfter(source, settings.corrections) : undefined;
    const { planes: shown, share } = finishLook(planes, finishing, source.space, { region, scale: 1 }, guide);
    const either = touched ? share.data.map((value, i) => Math.max(value, touched.data[i])) : share.data;
    return { region, planes: shown, touched: { ...share, data: either }, solved };
  },
};

/** The guide as it is once corrected. */
export function guideAfter(
  { guide, space, frame }: Pick<RenderSource, 'guide' | 'space' | 'frame'>,
  corrections: Corrections | null,
): FrameGuide {
  if (!guide) throw new CoreError('GUIDE_MISSING', 'The frame’s small picture is missing.');
  if (!corrections) return guide;
  return keptWith(guide.channels[0], contentKey(['corrected', corrections]), () => {
    const scale = guide.channels[0].width / frame.width;
    const channels = correctLight(guide.channels, corrections, space, frame, { region: wholeOf(frame), scale }, guide);
    return { channels, frame };
  });
}
