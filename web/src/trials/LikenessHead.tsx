import Button from 'react-bootstrap/Button';
import { addFace, removeFace, type Face } from '@vitrocept/core';
import { newId } from '../input/newId';
import { useFrameStore } from '../stores/frameStore';

interface LikenessHeadProps {
  readonly titles: readonly string[];
  readonly selected: number;
  onSelect(column: number): void;
  readonly faces: readonly Face[];
  readonly face: Face | null;
  setFaceId(id: string): void;
  readonly isSearching: boolean;
  onFind(): void;
  onClose(): void;
}

/** Whose likeness is looked at, of which trial, and where faces come from. */
export function LikenessHead(props: LikenessHeadProps) {
  const { titles, selected, onSelect, faces, face, setFaceId, isSearching, onFind, onClose } = props;
  const change = useFrameStore((state) => state.change);
  return (
    <div className="close-look-head">
      <strong>Likeness</strong>
      <label>
        of{' '}
        <select aria-label="Trial" value={selected} onChange={(event) => onSelect(Number(event.target.value))}>
          {titles.map((name, i) => (
            <option key={name} value={i}>
              {name}
            </option>
          ))}
        </select>
      </label>
      {faces.length > 0 && (
        <select aria-label="Face" value={face?.id} onChange={(event) => setFaceId(event.target.value)}>
          {faces.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      )}
      <Button size="sm" disabled={isSearching} onClick={onFind}>
        {isSearching ? 'Looking for faces …' : 'Find faces'}
      </Button>
      {face && (
        <>
          <button
            type="button"
            className="link-button"
            onClick={() => {
              const id = newId();
              change((old) => addFace(old, id));
              setFaceId(id);
            }}
          >
            another face by hand
          </button>
          <button type="button" className="link-button" onClick={() => change((old) => removeFace(old, face.id))}>
            remove this face
          </button>
        </>
      )}
      <Button size="sm" variant="outline-primary" onClick={onClose}>
        Back to the Wall <kbd>Esc</kbd>
      </Button>
    </div>
  );
}
