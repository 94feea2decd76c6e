import PDFDocument from 'pdfkit';
import { fontBytes, MARK_COLOURS, PAGE, type Painter } from './painter';

/** A PDF with one page or several; the same sheet has the same bytes. */
export function pdfPainter(title: string): Painter {
  const document = new PDFDocument({
    size: [PAGE.width, PAGE.height],
    margin: 0,
    info: { Title: title, Producer: 'Vitrocept', Creator: 'Vitrocept', CreationDate: new Date(0) },
  });
  const chunks: Buffer[] = [];
  document.on('data', (chunk: Buffer) => chunks.push(chunk));
  const ended = new Promise<void>((resolve, reject) => document.on('end', resolve).on('error', reject));
  return {
    text(x, baseline, text, font, size, colour) {
      document.registerFont(font, fontBytes(font));
      document.font(font).fontSize(size).fillColor(colour);
      document.text(text, x, baseline, { lineBreak: false, baseline: 'alphabetic' });
    },
    image: (bytes, x, y, width, height) => void document.image(bytes, x, y, { width, height }),
    line: (x1, y1, x2, y2, colour) =>
      void document.moveTo(x1, y1).lineTo(x2, y2).lineWidth(0.5).strokeColor(colour).stroke(),
    mark(kind, x, y, size) {
      const half = size / 2;
      document.lineWidth(1).strokeColor(MARK_COLOURS[kind]).fillColor(MARK_COLOURS[kind]);
      if (kind === 'damaged') document.rect(x, y, size, size).fill();
      else if (kind === 'not measurable')
        document
          .moveTo(x, y + half)
          .lineTo(x + size, y + half)
          .stroke();
      else document.circle(x + half, y + half, half).stroke();
      if (kind === 'check') document.rect(x, y + half, size, half).fill();
    },
    nextPage: () => void document.addPage({ size: [PAGE.width, PAGE.height], margin: 0 }),
    async finish() {
      document.end();
      await ended;
      return Buffer.concat(chunks);
    },
  };
}
