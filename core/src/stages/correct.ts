import { CoreError } from '../errors';
import { correctLight, needsBroad } from '../correct/correctLight';
import { filledPlane } from '../picture/plane';
import { changesLight, type Corrections } from '../prescription/corrections';
import type { FrameStage } from './stage';

/** Light and colour put right: after recovery, which works on the original's own values. */
export const correctStage: FrameStage<Corrections> = {
  name: 'correct',

  settingsOf: ({ corrections }) => (corrections && changesLight(corrections) ? corrections : null),

  reach: () => 0,

  regionNeeded: (_settings, wanted) => wanted,

  keyOf: (settings) => settings,

  touches: () => true,

  apply({ region, planes, solved }, settings, _wanted, { source }) {
    const { space, frame, guide } = source;
    if (needsBroad(settings) && !guide) throw new CoreError('GUIDE_MISSING', 'The frame’s small picture is missing.');
    const light = correctLight(planes, settings, space, frame, { region, scale: 1 }, guide);
    return { region, planes: light, touched: filledPlane(region.width, region.height, 1), solved };
  },
};
