import {
  asLinearSrgb,
  colourSpaceOf,
  copyProfile,
  decodePiece,
  encodeChannels,
  inverse3,
  LastUsed,
  mixes,
  wholeOf,
  writeIccProfile,
  type ColourSpace,
  type CopyColour,
} from '@vitrocept/core';
import type { CopyFacts, Page } from './write/page';

const made = new LastUsed<string, { icc: Buffer; space: ColourSpace }>(4);

/** A colour space that copies are converted to, with its profile. */
export function copySpace(colour: Exclude<CopyColour, 'as-original'>, channels: 1 | 3) {
  return made.of(`${colour} ${channels}`, () => {
    const profile = copyProfile(colour);
    const icc = Buffer.from(writeIccProfile(channels === 1 ? { ...profile, toXyzD50: null } : profile));
    return { icc, space: colourSpaceOf(icc, channels) };
  });
}

/** The same picture in another colour space; what that cannot hold is clipped. */
export function convertedPage(page: Page, facts: CopyFacts, from: ColourSpace, to: ColourSpace): Page {
  const { width, channels } = facts;
  const fromSrgb = to.toLinearSrgb && inverse3(to.toLinearSrgb);
  return {
    name: page.name,
    rows(y, count) {
      const region = wholeOf({ width, height: count });
      const linear = decodePiece({ region, channels, codes: page.rows(y, count) }, region, from);
      if (!fromSrgb) return encodeChannels(linear, to);
      const rows = [fromSrgb.slice(0, 3), fromSrgb.slice(3, 6), fromSrgb.slice(6, 9)];
      return encodeChannels(mixes(asLinearSrgb(linear, from), rows), to);
    },
  };
}
