/**
 * A profile for RGB that works by a table alone: 9 × 9 × 9 places, red, green and blue to Lab, as if they were those of
 * sRGB turned and dulled a little. Source: ICC.1:2022, 10.10 lut16Type.
 */
export function tableProfile(): Buffer {
  const grid = 9;
  const body = Buffer.alloc(52 + 3 * 2 * 2 + grid ** 3 * 3 * 2 + 3 * 2 * 2);
  body.write('mft2', 0, 'latin1');
  body.set([3, 3, grid], 8);
  [1, 0, 0, 0, 1, 0, 0, 0, 1].forEach((value, i) => body.writeInt32BE(value * 65536, 12 + 4 * i));
  body.writeUInt16BE(2, 48);
  body.writeUInt16BE(2, 50);
  let at = 52;
  const put = (value: number) => (at = body.writeUInt16BE(Math.round(Math.min(65535, Math.max(0, value))), at));
  for (let c = 0; c < 3; c++) [0, 65535].forEach(put);
  for (let r = 0; r < grid; r++) {
    for (let g = 0; g < grid; g++) {
      for (let b = 0; b < grid; b++) {
        const [x, y, z] = [r, g, b].map((value) => value / (grid - 1));
        // Legacy encoding of Lab in 16 bits: L 0..100 at 0..0xff00, a and b with 0 at 0x8000.
        put((0.3 * x + 0.6 * y + 0.1 * z) * 0xff00);
        put(0x8000 + 40 * (x - y) * 256);
        put(0x8000 + 45 * ((x + y) / 2 - z) * 256);
      }
    }
  }
  for (let c = 0; c < 3; c++) [0, 65535].forEach(put);
  const tags: [string, Buffer][] = [
    ['desc', text('a profile of tables')],
    ['cprt', text('none')],
    ['wtpt', xyz([0.9642, 1, 0.8249])],
    ['A2B0', body],
  ];
  const table = Buffer.alloc(4 + 12 * tags.length);
  table.writeUInt32BE(tags.length, 0);
  let place = 128 + table.length;
  tags.forEach(([name, { length }], i) => {
    table.write(name, 4 + 12 * i, 'latin1');
    table.writeUInt32BE(place, 8 + 12 * i);
    table.writeUInt32BE(length, 12 + 12 * i);
    place += length;
  });
  const header = Buffer.alloc(128);
  header.writeUInt32BE(place, 0);
  header.writeUInt32BE(0x02400000, 8);
  header.write('scnrRGB Lab ', 12, 'latin1');
  header.write('acsp', 36, 'latin1');
  [0.9642, 1, 0.8249].forEach((value, i) => header.writeInt32BE(Math.round(value * 65536), 68 + 4 * i));
  return Buffer.concat([header, table, ...tags.map(([, bytes]) => bytes)]);
}

function text(said: string): Buffer {
  const out = Buffer.alloc(Math.ceil((12 + said.length + 1 + 78) / 4) * 4);
  out.write('desc', 0, 'latin1');
  out.writeUInt32BE(said.length + 1, 8);
  out.write(said, 12, 'latin1');
  return out;
}

function xyz(values: readonly number[]): Buffer {
  const out = Buffer.alloc(20);
  out.write('XYZ ', 0, 'latin1');
  values.forEach((value, i) => out.writeInt32BE(Math.round(value * 65536), 8 + 4 * i));
  return out;
}
