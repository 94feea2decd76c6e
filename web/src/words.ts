import {
  judgedSentence,
  LIMITS,
  METHOD_DESCRIPTIONS,
  sizeWords,
  VERDICT_ORDER,
  type CleaningFigures,
  type CleaningSetting,
  type Figure,
  type Figures,
  type LeftAlone,
  type Measure,
  type Method,
  type OrderHint,
  type Pile,
  type ProposalKind,
  type SafetyLimit,
} from '@vitrocept/core';

export const PILE_NAMES: Record<Pile, string> = {
  'good-as-is': 'Good as is',
  grainy: 'Grainy',
  soft: 'Soft',
  'beyond-recovery': 'Beyond recovery',
};

/** Why nothing is recovered by itself. */
export const LEFT_ALONE_WORDS: Record<LeftAlone, string> = {
  sharp: 'Its spectrum falls as a sharp picture’s does: no blur of a known kind was found.',
  'would-harm': 'The likeliest blur was taken back on trial, and the result explained the photograph worse than it is.',
  untold: 'The picture is soft, but no blur of a known kind explains how: perhaps several act at once.',
  'gains-little': 'A blur was found, but taking it back would gain less than can be told from noise.',
};

export {
  cleaningWords,
  CHANNEL_NAMES,
  keptAuditSentence,
  likenessSentence,
  MEASURES,
  sizeWords,
  VERDICT_ORDER,
  type Measure,
} from '@vitrocept/core';

export const trialLetter = (index: number) => String.fromCharCode(65 + index);

export function causeSentence(method: Method | null, blurSizePx: number, directionDeg: number): string {
  if (!method) return 'Nothing to recover';
  return `${METHOD_DESCRIPTIONS[method].name}, ${sizeWords(method, blurSizePx, directionDeg)}`;
}

export const timeLeft = (seconds: number): string =>
  Number.isFinite(seconds) ? `${duration(seconds)} left` : 'estimating';

export function duration(seconds: number): string {
  if (seconds < 1.5) return 'about a second';
  if (seconds < 90) return `about ${Math.round(seconds)} s`;
  return `about ${Math.round(seconds / 60)} min`;
}

export function bytesText(bytes: number): string {
  return bytes < 1e6 ? `${Math.round(bytes / 1000)} kB` : `${(bytes / 1e6).toFixed(1)} MB`;
}

export const MEASURE_NAMES: Record<Measure, string> = {
  halo: 'Halo',
  ringing: 'Ringing',
  unproven: 'Unproven detail',
  colour: 'Colour drift',
  grain: 'Grain rise',
  leak: 'Background',
};

export function figureText(measure: Measure, { value, verdict }: Figure): string {
  return verdict === 'not measurable' ? '–' : valueText(measure, value);
}

/** What a figure is measured against: check from 5 %, damaged from 15 %. */
export function limitText(measure: Measure): string {
  const { check, damaged } = measure === 'unproven' ? { check: 1, damaged: 2 } : LIMITS[measure];
  return `check from ${valueText(measure, check)}, damaged from ${valueText(measure, damaged)}`;
}

function valueText(measure: Measure, value: number): string {
  switch (measure) {
    case 'halo':
    case 'ringing':
      return `${value.toFixed(0)} %`;
    case 'unproven':
    case 'colour':
      return value.toFixed(1);
    case 'grain':
      return `×${value.toFixed(1)}`;
    case 'leak':
      return `${value.toFixed(1)} / 255`;
  }
}

const UNPROVEN_SENTENCES = {
  brightness: 'detail contradicts the photograph',
  hue: 'colours contradict the photograph',
  unsupported: 'detail is finer than the photograph can vouch for',
} as const;

/** The worst of an audit in plain words. */
export function worstSentence(figures: Figures, where: string): string {
  return judgedSentence(figures, where, UNPROVEN_SENTENCES[figures.unproven.kind ?? 'brightness']);
}

export const PROPOSAL_NAMES: Record<ProposalKind, string> = {
  'perhaps-an-eye': 'perhaps an eye',
  'finest-texture': 'finest texture',
  'strongest-edge': 'strongest edge',
  'small-enclosed-area': 'small enclosed area',
  'background-edge': 'background edge',
};

/** A trial's own name, or its method's. */
export const trialName = ({ name, method }: { readonly name?: string; readonly method: Method }) =>
  name ?? METHOD_DESCRIPTIONS[method].name;

export const CLEANING_NAMES: Record<CleaningSetting, string> = {
  gentle: 'Gentle',
  even: 'Even',
  strong: 'Strong',
  'shadows-first': 'Shadows first',
  'colour-only': 'Colour only',
  'worst-channel': 'Worst channel',
};

export const CLEANING_HELP: Record<CleaningSetting, string> = {
  gentle: 'Colour specks go, most of the grain stays.',
  even: 'As much as was measured, a little of it kept.',
  strong: 'More than was measured, nothing kept: fine texture may go too.',
  'shadows-first': 'Dark places are cleaned, light ones left.',
  'colour-only': 'Specks of colour go, brightness stays as it is.',
  'worst-channel': 'The noisiest channel is cleaned wholly, the others a little.',
};

/** What the check of cleaning says, in plain words. */
export function cleaningSentence({ edges, texture }: CleaningFigures): string {
  const worse = VERDICT_ORDER[texture.verdict] >= VERDICT_ORDER[edges.verdict] ? 'texture' : 'edges';
  const figure = worse === 'texture' ? texture : edges;
  if (figure.verdict === 'not measurable') return 'Too little texture here to judge.';
  if (figure.verdict === 'safe') return 'What was removed looks like noise.';
  if (worse === 'texture') {
    const gone = `${Math.round(100 * texture.value)} % of the fine texture went with the noise`;
    return texture.verdict === 'damaged' ? `Cleaned to wax: ${gone}.` : `${gone}.`;
  }
  return texture.verdict === 'damaged' || edges.verdict === 'damaged'
    ? 'Edges were removed with the noise.'
    : 'What was removed follows edges a little.';
}

export const HINT_WORDS: Record<OrderHint, { readonly title: string; readonly text: string }> = {
  'sharpened-before': {
    title: 'Sharpened before',
    text: 'Noise was strengthened with them: start from a file without sharpening if there is one.',
  },
  'cleaned-before': {
    title: 'Cleaned before, or made smaller',
    text: 'There is far less noise than this ISO leaves. Cleaning again takes detail; a little grain may be all it needs.',
  },
  blocks: {
    title: 'JPEG blocks',
    text: 'Blocks of 8 px show in plain places. Hard cleaning lays them bare; keep some detail.',
  },
  'cropped-before': {
    title: 'Perhaps a crop',
    text: 'No camera makes these proportions. Noise and blur are measured best on the whole frame: bring that in and crop last.',
  },
  'texture-over-recovery': {
    title: 'Contrast over a recovery',
    text: 'A mask with Edge contrast or Fine texture lies over a recovered one: where both reach, edges are strengthened twice.',
  },
  'contrast-over-recovery': {
    title: 'Much local contrast over a recovery',
    text: 'What the recovery brought back, halos too, is strengthened once more. Look at the edges at 200 %.',
  },
  'enlarged-far': {
    title: 'Enlarged over 4 ×',
    text: 'There is no more detail to show: look at it from the distance it is made for.',
  },
};

/** The sliders of the cleaning. */
export const CLEANING_SLIDERS = [
  {
    key: 'luminance',
    name: 'Luminance noise',
    unit: '%',
    least: 0,
    most: 200,
    step: 1,
    help: 'How much grain is taken to be there: 100 is what was measured, 0 leaves it.',
  },
  {
    key: 'colour',
    name: 'Colour noise',
    unit: '%',
    least: 0,
    most: 200,
    step: 1,
    help: 'How many specks of colour are taken to be there: 100 is what was measured, 0 leaves them.',
  },
  {
    key: 'blotchPx',
    name: 'Blotches up to',
    unit: 'px',
    least: 8,
    most: 64,
    step: 8,
    help: 'How wide the widest blotches of colour are that are cleaned.',
  },
  {
    key: 'detailKept',
    name: 'Detail kept',
    unit: '%',
    least: 0,
    most: 100,
    step: 1,
    help: 'How much of what was removed is mixed back: a little grain looks sharper than none.',
  },
] as const;

/** What would begin if more were taken. */
export const SAFETY_WORDS: Record<SafetyLimit['figure'], string> = {
  halo: 'an edge would start to overshoot',
  ringing: 'a second stripe would start to show',
  unproven: 'detail would start to contradict the photograph',
  colour: 'colours would start to drift',
  grain: 'grain would start to show',
  leak: 'the background would start to change',
};
