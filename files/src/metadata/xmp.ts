import { DOMParser, XMLSerializer, type Document, type Element } from '@xmldom/xmldom';
import type { Size } from '@vitrocept/core';

/** What is told in a copy of how it came about. */
export interface HowMade {
  /** ISO 8601. */
  readonly at: string;
  readonly originalName: string;
  readonly originalSha256: string | null;
  readonly stage: string;
  /** As JSON. */
  readonly prescription: string | null;
}

const NS = {
  x: 'adobe:ns:meta/',
  rdf: 'http://www.w3.org/1999/02/22-rdf-syntax-ns#',
  xmp: 'http://ns.adobe.com/xap/1.0/',
  xmpMM: 'http://ns.adobe.com/xap/1.0/mm/',
  stEvt: 'http://ns.adobe.com/xap/1.0/sType/ResourceEvent#',
  tiff: 'http://ns.adobe.com/tiff/1.0/',
  exif: 'http://ns.adobe.com/exif/1.0/',
  /** IPTC Core keeps the names of places, and colour modes, in this one. */
  news: 'http://ns.adobe.com/photoshop/1.0/',
  iptc: 'http://iptc.org/std/Iptc4xmpCore/1.0/xmlns/',
  iptcExt: 'http://iptc.org/std/Iptc4xmpExt/2008-02-29/',
  /** Our own; what stands in it is told in docs/formats/xmp.md. */
  vitrocept: 'urn:vitrocept:xmp:1',
} as const;

/** What stands in a packet of samples, not of the shot: the new file has its own. */
const OF_THE_SAMPLES: readonly [ns: string, names: readonly string[]][] = [
  [NS.tiff, ['Orientation', 'ImageWidth', 'ImageLength', 'BitsPerSample', 'Compression', 'StripOffsets']],
  [NS.exif, ['PixelXDimension', 'PixelYDimension', 'ColorSpace']],
  [NS.xmp, ['CreatorTool', 'MetadataDate', 'ModifyDate', 'Thumbnails']],
  [NS.news, ['ICCProfile', 'ColorMode']],
];
const OF_THE_PLACE: readonly [ns: string, names: readonly string[]][] = [
  [NS.news, ['City', 'State', 'Country']],
  [NS.iptc, ['Location', 'CountryCode']],
  [NS.iptcExt, ['LocationCreated', 'LocationShown']],
];

/**
 * The XMP packet of a copy: what the original said of the shot, the copy's own size, and what was done.
 * Source: ISO 16684-1:2019 (XMP); Exif 2.32 for XMP for the names that describe samples.
 *
 * @param original - The original's packet; one that cannot be read is left behind.
 */
export function copyXmp(original: Buffer | null, size: Size, how: HowMade | null, isWithoutPlace: boolean): Buffer {
  const isTooLong = original !== null && original.length > MOST_PACKET_BYTES;
  const leftOut = isTooLong
    ? `The original’s packet of ${(original.length / 1e6).toFixed(1)} MB was left out: ${MOST_PACKET_BYTES / 1e6} MB are read.`
    : null;
  return written(isTooLong ? null : original, size, how, isWithoutPlace, leftOut);
}

/** Longer ones become trees of many times their size in memory. */
export const MOST_PACKET_BYTES = 1e6;

function written(
  original: Buffer | null,
  { width, height }: Size,
  how: HowMade | null,
  isWithoutPlace: boolean,
  leftOut: string | null,
): Buffer {
  const { document, description } = opened(original);
  forget(document, OF_THE_SAMPLES);
  if (isWithoutPlace) {
    forget(document, OF_THE_PLACE);
    forgetWhere(document, (ns, name) => ns === NS.exif && name.startsWith('GPS'));
  }
  const say = (ns: string, prefix: string, name: string, value: string | number) =>
    description.setAttributeNS(ns, `${prefix}:${name}`, String(value));
  say(NS.tiff, 'tiff', 'Orientation', 1);
  say(NS.tiff, 'tiff', 'ImageWidth', width);
  say(NS.tiff, 'tiff', 'ImageLength', height);
  say(NS.exif, 'exif', 'PixelXDimension', width);
  say(NS.exif, 'exif', 'PixelYDimension', height);
  say(NS.xmp, 'xmp', 'CreatorTool', 'Vitrocept');
  if (leftOut) say(NS.vitrocept, 'vitrocept', 'LeftOut', leftOut);
  if (how) {
    say(NS.xmp, 'xmp', 'MetadataDate', how.at);
    say(NS.xmp, 'xmp', 'ModifyDate', how.at);
    say(NS.vitrocept, 'vitrocept', 'Original', how.originalName);
    if (how.originalSha256) say(NS.vitrocept, 'vitrocept', 'OriginalSHA256', how.originalSha256);
    say(NS.vitrocept, 'vitrocept', 'Stage', how.stage);
    if (how.prescription) say(NS.vitrocept, 'vitrocept', 'Prescription', how.prescription);
    addToHistory(document, description, how);
  }
  const body = new XMLSerializer().serializeToString(document.documentElement!);
  return Buffer.from(`<?xpacket begin="\uFEFF" id="W5M0MpCehiHzreSzNTczkc9d"?>\n${body}\n<?xpacket end="w"?>`, 'utf8');
}

const EMPTY = `<x:xmpmeta xmlns:x="${NS.x}"><rdf:RDF xmlns:rdf="${NS.rdf}"><rdf:Description rdf:about=""/></rdf:RDF></x:xmpmeta>`;

/** The packet and the description in which what is new is said. */
function opened(packet: Buffer | null): { document: Document; description: Element } {
  const parse = (text: string) => {
    const parser = new DOMParser({ onError: (level, message) => level !== 'warning' && fail(message) });
    return parser.parseFromString(text, 'text/xml');
  };
  for (const text of [packet && bare(packet.toString('utf8')), EMPTY]) {
    if (!text) continue;
    try {
      const document = parse(text);
      const description = document.getElementsByTagNameNS(NS.rdf, 'Description').item(0);
      const isPacket =
        document.documentElement?.namespaceURI === NS.x || document.documentElement?.namespaceURI === NS.rdf;
      if (description && isPacket) return { document, description };
    } catch {
      // Damaged: begun anew.
    }
  }
  throw new Error('an empty packet can always be read');
}

/** Without the packet's wrapper; documents that define entities are not XMP and not read. */
function bare(text: string): string | null {
  if (text.includes('<!')) return null;
  return text.replace(/<\?xpacket[^>]*\?>/g, '').replace(/^[\uFEFF\s]+|[\0\s]+$/g, '');
}

function fail(message: string): never {
  throw new Error(message);
}

function forget(document: Document, what: readonly [string, readonly string[]][]): void {
  forgetWhere(document, (ns, name) => what.some(([own, names]) => own === ns && names.includes(name)));
}

/** Takes out elements and attributes of descriptions. */
function forgetWhere(document: Document, isMeant: (ns: string | null, name: string) => boolean): void {
  const descriptions = [...document.getElementsByTagNameNS(NS.rdf, 'Description')];
  for (const description of descriptions) {
    for (const attribute of [...description.attributes]) {
      if (isMeant(attribute.namespaceURI, attribute.localName ?? '')) description.removeAttributeNode(attribute);
    }
    for (const child of [...description.childNodes]) {
      if (child.nodeType === 1 && isMeant(child.namespaceURI, child.localName ?? '')) description.removeChild(child);
    }
  }
}

/** One more event of the file's history, after what others wrote. */
function addToHistory(document: Document, description: Element, { at, stage }: HowMade): void {
  const known = document.getElementsByTagNameNS(NS.xmpMM, 'History').item(0);
  const make = (ns: string, name: string, parent: Element) => {
    const element = document.createElementNS(ns, name);
    parent.appendChild(element);
    return element;
  };
  const history = known ?? make(NS.xmpMM, 'xmpMM:History', description);
  const list = history.getElementsByTagNameNS(NS.rdf, 'Seq').item(0) ?? make(NS.rdf, 'rdf:Seq', history);
  const event = make(NS.rdf, 'rdf:li', list);
  event.setAttributeNS(NS.rdf, 'rdf:parseType', 'Resource');
  const say = (name: string, text: string) => {
    make(NS.stEvt, `stEvt:${name}`, event).appendChild(document.createTextNode(text));
  };
  say('action', 'derived');
  say('softwareAgent', 'Vitrocept');
  say('when', at);
  say('parameters', `${stage} copy`);
}
