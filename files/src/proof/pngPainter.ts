import sharp from 'sharp';
import { fontOf, MARK_COLOURS, PAGE, type Painter } from './painter';

/** px a point of the page. */
const SCALE = 2;

/** One page as a PNG: letters are drawn as their outlines, so that no font has to be installed. */
export function pngPainter(): Painter {
  const parts: string[] = [];
  const images: { bytes: Buffer; x: number; y: number; width: number; height: number }[] = [];
  const at = (value: number) => value.toFixed(2);
  return {
    text(x, baseline, text, name, size, colour) {
      const font = fontOf(name);
      const scale = size / font.unitsPerEm;
      const run = font.layout(text);
      let left = 0;
      run.glyphs.forEach((glyph, i) => {
        const path = glyph.path.toSVG();
        const place = `translate(${at(x + left * scale)} ${at(baseline)}) scale(${scale} ${-scale})`;
        if (path) parts.push(`<path transform="${place}" d="${path}" fill="${colour}"/>`);
        left += run.positions[i].xAdvance;
      });
    },
    image: (bytes, x, y, width, height) => void images.push({ bytes, x, y, width, height }),
    line: (x1, y1, x2, y2, colour) =>
      void parts.push(`<path d="M${x1} ${y1}L${x2} ${y2}" stroke="${colour}" stroke-width="0.5"/>`),
    mark(kind, x, y, size) {
      const colour = MARK_COLOURS[kind];
      const half = size / 2;
      if (kind === 'damaged') parts.push(`<rect x="${x}" y="${y}" width="${size}" height="${size}" fill="${colour}"/>`);
      else if (kind === 'not measurable') parts.push(`<path d="M${x} ${y + half}h${size}" stroke="${colour}"/>`);
      else parts.push(`<circle cx="${x + half}" cy="${y + half}" r="${half}" fill="none" stroke="${colour}"/>`);
      if (kind === 'check')
        parts.push(`<rect x="${x}" y="${y + half}" width="${size}" height="${half}" fill="${colour}"/>`);
    },
    nextPage() {
      throw new Error('A PNG has one page.');
    },
    async finish() {
      const [width, height] = [Math.round(PAGE.width * SCALE), Math.round(PAGE.height * SCALE)];
      const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${PAGE.width} ${PAGE.height}"><rect width="100%" height="100%" fill="#fff"/>${parts.join('')}</svg>`;
      const laid = await Promise.all(
        images.map(async ({ bytes, x, y, width: across, height: down }) => ({
          input: await sharp(bytes)
            .resize(Math.round(across * SCALE), Math.round(down * SCALE), { fit: 'fill', kernel: 'nearest' })
            .png()
            .toBuffer(),
          left: Math.round(x * SCALE),
          top: Math.round(y * SCALE),
        })),
      );
      return sharp(Buffer.from(svg)).composite(laid).png().toBuffer();
    },
  };
}
