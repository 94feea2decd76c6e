import { useRef, useState } from 'react';
import Button from 'react-bootstrap/Button';
import { useDropzone } from 'react-dropzone';
import { added, underLocal, withOperations, type AreaOperation, type MaskOperation } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { sendFile } from '../api/client';
import { useFrameStore } from '../stores/frameStore';
import { useLightStore } from '../stores/lightStore';
import { CopyMask } from './CopyMask';
import { maskInHand, useMaskChange } from './useMaskChange';

const FORMATS = [
  ['png', 16, 'PNG, 16 bits'],
  ['png', 8, 'PNG, 8 bits'],
  ['tiff', 16, 'TIFF, 16 bits'],
  ['tiff', 8, 'TIFF, 8 bits'],
] as const;

/** The mask as a whole: filled, turned, brought in, saved, copied. */
export function WholeTool({ frame, operations }: { frame: FrameDetail; operations: readonly MaskOperation[] }) {
  const changeIn = useFrameStore((state) => state.changeIn);
  const change = useMaskChange();
  const [note, setNote] = useState<string | null>(null);
  const [isCopying, setCopying] = useState(false);
  const isEmpty = operations.length === 0;
  /** Files and copies are made of the frame's own masks. */
  const isLocal = useLightStore((state) => state.localId !== null);
  const bringIn = async ([file]: File[]) => {
    if (!file) return;
    setNote('Reading the mask …');
    const maskId = maskInHand().id;
    const { localId } = useLightStore.getState();
    try {
      const area = await sendFile<AreaOperation>(`/api/frames/${frame.id}/mask-file`, file, () => undefined);
      changeIn(frame.id, (old) => underLocal(old, localId, added(area, maskId)));
      setNote(null);
    } catch (error) {
      setNote(`${file.name}: ${(error as Error).message}`);
    }
  };
  const { getRootProps, getInputProps, open } = useDropzone({
    onDrop: (files) => void bringIn(files),
    multiple: false,
    noClick: true,
    noKeyboard: true,
  });
  const format = useRef<HTMLSelectElement>(null);
  const save = async () => {
    if ((await useFrameStore.getState().saveNow(frame.id)) === null) {
      setNote('The mask is not saved yet, so there is nothing to hand out: see the note at the top.');
      return;
    }
    const [kind, bits] = FORMATS[format.current?.selectedIndex ?? 0];
    window.location.assign(`/api/frames/${frame.id}/mask.${kind}?bits=${bits}`);
  };
  return (
    <>
      <div className="tray-block" {...getRootProps()}>
        <div className="tray-buttons">
          <Button size="sm" variant="outline-primary" onClick={() => change(added({ kind: 'fill' }))}>
            Fill
          </Button>
          <Button size="sm" variant="outline-primary" onClick={() => change(added({ kind: 'invert' }))}>
            Invert
          </Button>
          <Button
            size="sm"
            variant="outline-primary"
            disabled={isEmpty}
            onClick={() => change((old) => withOperations(old, () => []))}
          >
            Clear
          </Button>
        </div>
        <input {...getInputProps({ 'aria-label': 'Mask to bring in' })} />
        <div className="tray-buttons">
          <Button
            size="sm"
            variant="outline-primary"
            title="A grey PNG or TIFF of the frame’s size, 8 or 16 bits: white is in the mask"
            onClick={open}
          >
            Bring in a mask
          </Button>
          <Button size="sm" variant="outline-primary" disabled={isEmpty || isLocal} onClick={() => setCopying(true)}>
            Copy to other frames
          </Button>
        </div>
        {note && (
          <p className="hint" role="status">
            {note}
          </p>
        )}
      </div>
      <div className="tray-block">
        <label htmlFor="mask-format">Save as a grey picture</label>
        <div className="tray-buttons">
          <select id="mask-format" ref={format}>
            {FORMATS.map(([kind, bits, name]) => (
              <option key={`${kind} ${bits}`}>{name}</option>
            ))}
          </select>
          <Button size="sm" variant="outline-primary" disabled={isLocal} onClick={() => void save()}>
            Save the mask
          </Button>
        </div>
        <p className="hint">Of the frame’s size: for other programs, or the command line.</p>
      </div>
      {isCopying && <CopyMask frame={frame} onClose={() => setCopying(false)} />}
    </>
  );
}
