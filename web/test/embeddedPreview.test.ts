import { expect, it } from 'vitest';
import { embeddedPreview } from '../src/shoots/embeddedPreview';

type Field = readonly [tag: number, type: 1 | 3 | 4, values: readonly number[]];

/** A file with two directories, the second pointed to by the first, and a text where its preview lies. */
function fileWith(main: readonly Field[], sub: readonly Field[], isLittle = true): Blob {
  const bytes = new Uint8Array(600);
  const view = new DataView(bytes.buffer);
  view.setUint16(0, isLittle ? 0x4949 : 0x4d4d);
  view.setUint16(2, 42, isLittle);
  view.setUint32(4, 8, isLittle);
  const write = (at: number, fields: readonly Field[]) => {
    view.setUint16(at, fields.length, isLittle);
    fields.forEach(([tag, type, values], i) => {
      const place = at + 2 + 12 * i;
      view.setUint16(place, tag, isLittle);
      view.setUint16(place + 2, type, isLittle);
      view.setUint32(place + 4, values.length, isLittle);
      values.forEach((value, k) => {
        if (type === 1) view.setUint8(place + 8 + k, value);
        else if (type === 3) view.setUint16(place + 8 + 2 * k, value, isLittle);
        else view.setUint32(place + 8, value, isLittle);
      });
    });
  };
  write(8, main);
  write(200, sub);
  bytes.set(new TextEncoder().encode('the preview'), 400);
  return new Blob([bytes]);
}

const PREVIEW: Field[] = [
  [254, 4, [1]],
  [256, 4, [48]],
  [259, 3, [7]],
  [273, 4, [400]],
  [279, 4, [11]],
];
const VERSION: Field = [50706, 1, [1, 4, 0, 0]];

it.each([true, false])(
  'is found in the first directory or in one it points to; lowest byte first: %s',
  async (isLittle) => {
    const first = await embeddedPreview(fileWith([...PREVIEW, VERSION], [], isLittle));
    expect(await first!.text()).toBe('the preview');
    expect(first!.type).toBe('image/jpeg');
    const second = await embeddedPreview(fileWith([[330, 4, [200]], VERSION], PREVIEW, isLittle));
    expect(await second!.text()).toBe('the preview');
  },
);

it('is not looked for in other files, and damaged ones show nothing', async () => {
  expect(await embeddedPreview(fileWith(PREVIEW, []))).toBeNull();
  expect(await embeddedPreview(new Blob(['II']))).toBeNull();
  expect(await embeddedPreview(new Blob(['Dear field station, this is no picture']))).toBeNull();
  const beyond = PREVIEW.map((field): Field => (field[0] === 279 ? [279, 4, [9000]] : field));
  expect(await embeddedPreview(fileWith([...beyond, VERSION], []))).toBeNull();
});
