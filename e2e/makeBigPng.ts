/** Writes a 1500 × 1100 px PNG with stripes and seeded grain to standard output. */
import sharp from 'sharp';

const [width, height] = [1500, 1100];
const pixels = Buffer.alloc(width * height * 3);
let seed = 12345;
for (let i = 0; i < pixels.length; i++) {
  seed = (Math.imul(seed, 1103515245) + 12345) & 0x7fffffff;
  const x = Math.floor(i / 3) % width;
  pixels[i] = 110 + 60 * Math.sin(x / 9) + ((seed >> 16) % 9);
}
process.stdout.write(
  await sharp(pixels, { raw: { width, height, channels: 3 } })
    .png()
    .toBuffer(),
);
