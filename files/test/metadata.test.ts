import { execFileSync, spawnSync } from 'node:child_process';
import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { filledPlane, usualWishes, type CopyMetadata, type SaveFormat } from '@vitrocept/core';
import { pageOf, readPicture, writeCopy, type HowMade } from '../src';
import { copyXmp, MOST_PACKET_BYTES } from '../src/metadata/xmp';
import { dngOf } from './dngs';
import { temporaryFolder } from './pictures';

const folder = await temporaryFolder();
const SIZE = { width: 60, height: 44 };

/** All that exiftool finds, by group and name; what it says of itself, of the file and of the samples left out. */
function tagsOf(path: string): Record<string, unknown> {
  const [found] = JSON.parse(
    execFileSync('exiftool', ['-json', '-n', '-G1', '-a', '-struct', path], { encoding: 'utf8' }),
  );
  return Object.fromEntries(
    Object.entries(found as Record<string, unknown>).filter(
      ([name]) => /^(IFD0|ExifIFD|GPS|IPTC|XMP-)/.test(name) && !OF_THE_SAMPLES.test(name.replace(/^[^:]*:/, '')),
    ),
  );
}

/** Common practice, no source: tags that tell how the samples of this file are stored, or that every copy says anew. */
const OF_THE_SAMPLES =
  /^(SubfileType|SampleFormat|Image(Width|Height|Length)|ExifImage(Width|Height)|BitsPerSample|Compression|Photometric.*|Strip.*|RowsPer.*|SamplesPerPixel|PlanarConf.*|Predictor|Orientation|Software|ModifyDate|MetadataDate|CreatorTool|[XY]Resolution|ResolutionUnit|YCbCr.*|ExifVersion|ComponentsConf.*|FlashpixVersion|ColorSpace|XMPToolkit|History|DNG.*|PageNumber|ExifByteOrder|PreviewImage.*|AnalogBalance|AsShotNeutral|CodedCharacterSet|ApplicationRecordVersion|PixelXDimension|PixelYDimension|DerivedFrom.*|Original|OriginalSHA256|Stage|Prescription|ColorMatrix1|CalibrationIlluminant1|UniqueCameraModel|Resolution|GPSVersionID|About)$/;

const TOLD = [
  '-IFD0:Make=Quorvane',
  '-IFD0:Model=Quorvane K2',
  '-IFD0:Artist=N. Tarn',
  '-IFD0:Copyright=Saltmere field station',
  '-ExifIFD:ISO=1600',
  '-ExifIFD:ExposureTime=1/500',
  '-ExifIFD:FNumber=4.5',
  '-ExifIFD:FocalLength=300',
  '-ExifIFD:LensModel=Quorvane 300 mm f/4 Tele',
  '-ExifIFD:LensInfo=300 300 4 4',
  '-ExifIFD:DateTimeOriginal=2026:05:18 06:41:09',
  '-ExifIFD:OffsetTimeOriginal=+02:00',
  '-GPS:GPSLatitude=54.25',
  '-GPS:GPSLatitudeRef=N',
  '-GPS:GPSLongitude=3.5',
  '-GPS:GPSLongitudeRef=W',
  '-XMP-dc:Title=Marten at the weir',
  '-XMP-dc:Subject=marten',
  '-XMP-dc:Subject=weir',
  '-XMP-xmp:Rating=4',
  '-XMP-iptcCore:Location=Saltmere',
  '-XMP-exif:GPSAltitude=12',
];
const TOLD_BY_IPTC = [
  '-IPTC:Keywords=marten',
  '-IPTC:Keywords=weir',
  '-IPTC:Caption-Abstract=Marten at the weir',
  '-IPTC:City=Saltmere',
];

type Kind = 'jpeg' | 'tiff' | 'png' | 'dng';

/** Each is made once. */
const made = new Map<string, Promise<unknown>>();
function once<T>(key: string, make: () => Promise<T>): Promise<T> {
  if (!made.has(key)) made.set(key, make());
  return made.get(key) as Promise<T>;
}

const original = (kind: Kind) => once(kind, () => makeOriginal(kind));

async function makeOriginal(kind: Kind): Promise<string> {
  const path = join(folder, `original.${kind}`);
  const grey = sharp({ create: { ...SIZE, channels: 3, background: '#70705f' } });
  const plane = filledPlane(SIZE.width, SIZE.height, 0.2);
  await writeFile(
    path,
    kind === 'dng'
      ? await dngOf([plane, plane, plane])
      : await grey.toFormat(kind, kind === 'tiff' ? { compression: 'none' } : {}).toBuffer(),
  );
  const told = kind === 'png' ? TOLD : [...TOLD, ...TOLD_BY_IPTC];
  execFileSync('exiftool', ['-q', '-overwrite_original', ...told, path], { stdio: 'pipe' });
  return path;
}

const HOW: HowMade = {
  at: '2026-06-01T09:30:00.000Z',
  originalName: 'original',
  originalSha256: 'ab'.repeat(32),
  stage: 'recovered',
  prescription: '{"version":3}',
};

const copied = (kind: Kind, format: SaveFormat, metadata: CopyMetadata = 'all') =>
  once(`${kind} ${format} ${metadata}`, () => makeCopy(kind, format, metadata));

async function makeCopy(kind: Kind, format: SaveFormat, metadata: CopyMetadata) {
  const path = await original(kind);
  const picture = await readPicture(path);
  const codes =
    picture.bits === 16 ? Uint16Array.from(picture.samples) : Uint16Array.from(picture.samples, (v) => v * 257);
  const place = join(folder, `${kind}-${format}-${metadata}.${format}`);
  const wishes = { ...usualWishes(format, picture.isSensorData), metadata };
  await writeCopy(place, { facts: picture, pages: [pageOf('', codes, picture)], format, wishes, how: HOW }, 'allowed');
  return { before: path, after: place, codes };
}

const WAYS: readonly [Kind, SaveFormat][] = [
  ['jpeg', 'tiff16'],
  ['jpeg', 'png16'],
  ['jpeg', 'jpeg'],
  ['tiff', 'tiff16'],
  ['tiff', 'png8'],
  ['tiff', 'jpeg'],
  ['png', 'tiff16'],
  ['png', 'png16'],
  ['png', 'jpeg'],
  ['dng', 'dng'],
  ['dng', 'tiff16'],
  ['dng', 'jpeg'],
];

describe('every tag of the shot, before and after, as exiftool reads it', () => {
  it.each(WAYS)('%s → %s is kept; the copy is valid and says what was done', async (kind, format) => {
    const { before, after } = await copied(kind, format);
    const was = await once(`tags ${kind}`, async () => tagsOf(before));
    const is = tagsOf(after);
    // A PNG has no place for IPTC datasets; what they say stands in its XMP.
    const kept = Object.entries(was).filter(([name]) => !(format.startsWith('png') && name.startsWith('IPTC:')));
    expect(kept.length).toBeGreaterThan(15);
    for (const [name, value] of kept) expect(is[name], name).toEqual(value);
    const [found] = JSON.parse(execFileSync('exiftool', ['-json', '-n', '-struct', after], { encoding: 'utf8' }));
    expect(found).toMatchObject({
      Software: 'Vitrocept',
      Orientation: 1,
      CreatorTool: 'Vitrocept',
      OriginalSHA256: HOW.originalSha256,
    });
    expect(found.Prescription).toBe(HOW.prescription);
    expect(found.History.at(-1)).toMatchObject({ Action: 'derived', SoftwareAgent: 'Vitrocept' });
    expect(found.Error).toBeUndefined();
    const said = spawnSync('exiftool', ['-validate', '-warning', '-a', after], { encoding: 'utf8' }).stdout;
    // What an original did not have either, and 8 for Deflate, which the library does not list, are no faults.
    const faults = said
      .split('\n')
      .filter((line) => /Error|Warning +:/.test(line) && !/minor|Missing|Compression/.test(line));
    expect(faults).toEqual([]);
  });
});

describe('what is left out', () => {
  it.each(['jpeg', 'tiff16'] as const)('where it was taken, on wish: %s', async (format) => {
    const tags = tagsOf((await copied('jpeg', format, 'without-place')).after);
    expect(Object.keys(tags).filter((name) => /GPS|City|Location/.test(name))).toEqual([]);
    expect(tags).toMatchObject({
      'IFD0:Model': 'Quorvane K2',
      'XMP-dc:Title': 'Marten at the weir',
      'IPTC:Caption-Abstract': 'Marten at the weir',
    });
  });

  it('everything of the shot, on wish', async () => {
    const tags = tagsOf((await copied('jpeg', 'jpeg', 'none')).after);
    expect(Object.keys(tags)).toEqual([]);
  });

  it('a packet that is damaged, and one that defines entities', async () => {
    for (const packet of [
      '<x:xmpmeta',
      '<!DOCTYPE x [<!ENTITY a "b">]><x:xmpmeta xmlns:x="adobe:ns:meta/">&a;</x:xmpmeta>',
    ]) {
      const path = await original('tiff');
      const picture = { ...(await readPicture(path)), xmp: Buffer.from(packet) };
      const codes = Uint16Array.from(picture.samples, (v) => v * 257);
      const place = join(folder, 'damaged.tiff');
      await writeCopy(
        place,
        { facts: picture, pages: [pageOf('', codes, picture)], format: 'tiff16', how: HOW },
        'allowed',
      );
      expect(tagsOf(place)['XMP-dc:Title']).toBeUndefined();
      expect(tagsOf(place)['IFD0:Model']).toBe('Quorvane K2');
    }
  });
});

describe('a packet that would take all memory or time', () => {
  const how = {
    at: '2026-05-18T08:00:00Z',
    originalName: 'a.png',
    originalSha256: null,
    stage: 'finished',
    prescription: null,
  };
  const packet = (inner: string) =>
    Buffer.from(
      `<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about="">${inner}</rdf:Description></rdf:RDF></x:xmpmeta>`,
    );

  it('is left out where it is long, and the copy says so', () => {
    const told = copyXmp(packet('<a xmlns="urn:a"/>'.repeat(MOST_PACKET_BYTES / 10)), SIZE, how, false).toString();
    expect(told.length).toBeLessThan(5000);
    expect(told).toMatch(/LeftOut="The original’s packet of 1.8 MB was left out/);
  });
});

it('a linear DNG holds the codes bit for bit, here and in the reference library', async () => {
  const { after, codes } = await copied('dng', 'dng');
  const back = await readPicture(after);
  expect(back).toMatchObject({ format: 'dng', ...SIZE });
  expect(back.samples).toEqual(codes);
  const said = execFileSync('raw-identify', ['-v', after], { encoding: 'utf8' });
  expect(said).toMatch(/Raw colors: 3/);
  expect(said).toMatch(/Full size:\s+60 x 44/);
});
