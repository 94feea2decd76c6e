import {
  COPY_COLOUR_NAMES,
  COPY_COLOURS,
  COPY_METADATA,
  COPY_METADATA_NAMES,
  isRecovered,
  isSensorFormat,
  LONG_EDGE_PX,
  NAME_TOKENS,
  nameFrom,
  PPI,
  SAVE_FORMAT_DESCRIPTIONS,
  shortWords,
  sizeAfter,
  stagesOf,
  wishesFault,
  withLongEdge,
  withOutputSharpening,
  type CopyColour,
  type CopyMetadata,
  type CopyWishes,
  type Prescription,
  type SaveFormat,
  type Size,
} from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { NumberField } from '../parts/NumberField';
import { useCopyStore } from '../stores/copyStore';
import { useFrameStore } from '../stores/frameStore';

const CM_PER_INCH = 2.54;
const USUAL_PPI = 300;

interface CopyCardProps {
  readonly frame: FrameDetail;
  readonly prescription: Prescription;
  readonly format: SaveFormat;
  readonly wishes: CopyWishes;
}

/** The copy beside its format: colour space, size, what is told of the shot, its name. */
export function CopyCard({ frame, prescription, format, wishes, size }: CopyCardProps & { readonly size: Size }) {
  const set = useCopyStore((state) => state.set);
  const change = useFrameStore((state) => state.change);
  const whole = sizeAfter({ ...prescription, size: undefined }, frame);
  const longest = Math.max(whole.width, whole.height);
  const longEdge = Math.max(size.width, size.height);
  const setLongEdge = (px: number) => change((old) => withLongEdge(old, frame, px), 'long edge');
  const { colour, ppi } = wishes;
  return (
    <section className="card-plain copy-card" aria-label="The copy">
      <h2>The copy</h2>
      <div className="copy-rows">
        <label htmlFor="copy-colour">Colour space</label>
        <select
          id="copy-colour"
          value={colour}
          disabled={format === 'dng'}
          onChange={({ target }) => set({ colour: target.value as CopyColour })}
        >
          {COPY_COLOURS.map((one) => (
            <option key={one} value={one}>
              {one === 'as-original' ? `${COPY_COLOUR_NAMES[one]} (${frame.profile})` : COPY_COLOUR_NAMES[one]}
            </option>
          ))}
        </select>
        <p className="hint">{colourHint(format, colour, frame)}</p>

        <span>Size</span>
        <div className="copy-numbers figure">
          <label>
            long edge{' '}
            <NumberField
              label="Long edge of the copy"
              value={longEdge}
              least={LONG_EDGE_PX.least}
              most={longest}
              onChange={setLongEdge}
            />{' '}
            px
          </label>
          <label>
            <NumberField
              label="Size of the copy in percent"
              value={(100 * longEdge) / longest}
              least={1}
              most={100}
              digits={1}
              onChange={(percent) => setLongEdge((longest * percent) / 100)}
            />{' '}
            %
          </label>
        </div>
        <p className="hint">
          {longEdge === longest ? 'As large as it is.' : `Made smaller, from ${longest} px.`} Finishing enlarges.
        </p>

        <span>Sharpening</span>
        <div className="copy-numbers figure">
          <label>
            <NumberField
              label="Output sharpening in percent"
              value={prescription.outputSharpeningPercent ?? 0}
              least={0}
              most={100}
              onChange={(percent) => change((old) => withOutputSharpening(old, percent), 'output sharpening')}
            />{' '}
            %
          </label>
        </div>
        <p className="hint">{sharpeningHint(prescription)}</p>

        <span>For print</span>
        <div className="copy-numbers figure">
          <label>
            <NumberField
              label="Px an inch"
              value={ppi ?? USUAL_PPI}
              least={PPI.least}
              most={PPI.most}
              onChange={(value) => set({ ppi: value })}
            />{' '}
            px/inch
          </label>
          <label>
            long edge{' '}
            <NumberField
              label="Long edge in print, cm"
              value={(longEdge / (ppi ?? USUAL_PPI)) * CM_PER_INCH}
              least={1}
              most={(longest / PPI.least) * CM_PER_INCH}
              digits={1}
              onChange={(cm) => {
                const wanted = (cm / CM_PER_INCH) * (ppi ?? USUAL_PPI);
                if (wanted <= longest) setLongEdge(wanted);
                // More px there are not: the same ones lie farther apart.
                set({
                  ppi:
                    wanted <= longest
                      ? (ppi ?? USUAL_PPI)
                      : Math.max(PPI.least, Math.round((longest / cm) * CM_PER_INCH)),
                });
                if (wanted > longest) setLongEdge(longest);
              }}
            />{' '}
            cm
          </label>
        </div>
        <p className="hint">
          {ppi === null ? 'Not written into the file until you choose.' : `Written into the file: ${ppi} px an inch.`}
        </p>

        <label htmlFor="copy-metadata">Goes with it</label>
        <select
          id="copy-metadata"
          value={wishes.metadata}
          onChange={({ target }) => set({ metadata: target.value as CopyMetadata })}
        >
          {COPY_METADATA.map((one) => (
            <option key={one} value={one}>
              {COPY_METADATA_NAMES[one]}
            </option>
          ))}
        </select>

        <label htmlFor="copy-name">Name</label>
        <input
          id="copy-name"
          value={wishes.namePattern}
          spellCheck={false}
          onChange={({ target }) => set({ namePattern: target.value })}
        />
        <NameHint frame={frame} prescription={prescription} format={format} wishes={wishes} />
      </div>
    </section>
  );
}

function NameHint({ frame, prescription, format, wishes }: CopyCardProps) {
  const fault = wishesFault(wishes, format);
  if (fault) {
    return (
      <p className="text-damaged" role="alert">
        {fault}
      </p>
    );
  }
  const name = nameFrom(wishes.namePattern, {
    frame: frame.name.replace(/\.[^.]*$/, ''),
    stage: stagesOf(prescription).at(-1)!,
    counter: '001',
    date: (frame.exposure.takenAt ?? new Date().toISOString()).slice(0, 10),
    prescription: shortWords(prescription),
  });
  return (
    <p className="hint" title={`Known: ${NAME_TOKENS.map((token) => `{${token}}`).join(' ')}`}>
      <span className="figure">{`${name}${SAVE_FORMAT_DESCRIPTIONS[format].ending}`}</span>
    </p>
  );
}

function sharpeningHint(prescription: Prescription): string {
  if (!prescription.outputSharpeningPercent) return 'None: nothing is sharpened after what you judged.';
  return isRecovered(prescription)
    ? 'Last of all, on the copy’s own pixels. It is recovered already: look at the edges beside.'
    : 'Last of all, on the copy’s own pixels, held so that no edge shows a halo.';
}

function colourHint(format: SaveFormat, colour: CopyColour, frame: FrameDetail): string {
  if (format === 'dng') return 'A DNG stays in the camera’s own colours.';
  if (format === 'jpeg' && colour !== 'srgb' && colour !== 'as-original') {
    return 'Many viewers take a JPEG for sRGB: in this one its colours may look pale there.';
  }
  if (format === 'jpeg' && colour === 'srgb')
    return 'What sRGB cannot hold is clipped: bright leaves and feathers may.';
  if (colour === 'as-original' && isSensorFormat(frame.format)) {
    return 'The camera’s own linear colours: few programs show them rightly.';
  }
  if (colour === 'romm' && format === 'png8') return 'Too wide for eight bits: skies may band. Take 16 bits.';
  return '';
}
