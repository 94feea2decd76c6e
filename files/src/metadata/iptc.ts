/**
 * Resource of an image resource block that holds IPTC datasets. Source: IPTC-IIM 4.2, and the block's public layout.
 */
const IPTC_RESOURCE = 0x0404;
const SIGNATURE = '8BIM';
/** Fourteen bytes that stand before the resources in a JPEG's APP13. */
const RESOURCES_NAME = Buffer.from('50686f746f73686f7020332e3000', 'hex');
/** Every dataset begins so. */
const MARKER = 0x1c;

/** The IPTC datasets as they stand alone, or among the resources of an APP13 segment; null where there are none. */
export function iptcDatasets(block: Buffer | null | undefined): Buffer | null {
  if (!block || block[0] === MARKER) return block ?? null;
  let at = block.subarray(0, RESOURCES_NAME.length).equals(RESOURCES_NAME) ? RESOURCES_NAME.length : 0;
  while (at + 12 <= block.length && block.toString('latin1', at, at + 4) === SIGNATURE) {
    const kind = block.readUInt16BE(at + 4);
    const nameBytes = block[at + 6] + 1;
    const head = at + 6 + nameBytes + (nameBytes % 2);
    if (head + 4 > block.length) return null;
    const length = block.readUInt32BE(head);
    if (kind === IPTC_RESOURCE) {
      return head + 4 + length <= block.length ? block.subarray(head + 4, head + 4 + length) : null;
    }
    at = head + 4 + length + (length % 2);
  }
  return null;
}

/** An APP13 segment's body that holds IPTC datasets. */
export function resourcesOfIptc(iptc: Buffer): Buffer {
  const head = Buffer.alloc(12);
  head.write(SIGNATURE, 0, 'latin1');
  head.writeUInt16BE(IPTC_RESOURCE, 4);
  head.writeUInt32BE(iptc.length, 8);
  return Buffer.concat([RESOURCES_NAME, head, iptc, Buffer.alloc(iptc.length % 2)]);
}

/** Datasets of record 2 that say where it was taken. Source: IPTC-IIM 4.2, chapter 6. */
const PLACE_DATASETS = new Set([26, 27, 90, 92, 95, 100, 101]);

/** The datasets without those of a place. Source: IPTC-IIM 4.2, chapter 3 (marker, record, dataset, length). */
export function withoutPlace(iptc: Buffer): Buffer {
  const kept: Buffer[] = [];
  for (let at = 0; at + 5 <= iptc.length && iptc[at] === MARKER;) {
    const length = iptc.readUInt16BE(at + 3);
    // Extended datasets (over 32 kB) are not told apart: nothing of a place is that long.
    if (length & 0x8000) return Buffer.concat([...kept, iptc.subarray(at)]);
    const end = at + 5 + length;
    if (!(iptc[at + 1] === 2 && PLACE_DATASETS.has(iptc[at + 2]))) kept.push(iptc.subarray(at, end));
    at = end;
  }
  return Buffer.concat(kept);
}
