import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import {
  isOfFace,
  smallOrPoor,
  withFeatures,
  withFoundFaces,
  withOperations,
  type Face,
  type MaskOperation,
} from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { useFrameStore } from '../stores/frameStore';
import { findFaces } from '../surfaces/faceFinder';
import { newId } from '../input/newId';
import { useMaskChange } from './useMaskChange';

interface FaceToolProps {
  readonly frame: FrameDetail;
  readonly faces: readonly Face[];
  readonly operations: readonly MaskOperation[];
  /** Faces that count. */
  readonly chosen: readonly Face[];
  onChoose(ids: readonly string[]): void;
}

/** Parts of faces in and out of the mask. */
export function FaceTool({ frame, faces, operations, chosen, onChoose }: FaceToolProps) {
  const changeIn = useFrameStore((state) => state.changeIn);
  const change = useMaskChange();
  const [search, setSearch] = useState('idle');
  const isOn = chosen.length > 0 && chosen.every((face) => operations.some((one) => isOfFace(one, face)));
  const find = async () => {
    setSearch('searching');
    try {
      const found = await findFaces(frame);
      if (found.length > 0) changeIn(frame.id, (old) => withFoundFaces(old, found, newId));
      setSearch(
        found.length > 0 ? 'idle' : 'No face of a person was found. Parts placed by hand under Likeness count too.',
      );
    } catch (error) {
      setSearch(`The search failed: ${(error as Error).message}`);
    }
  };
  const lesser = smallOrPoor(faces);
  const isChosen = (face: Face) => chosen.includes(face);
  return (
    <>
      <div className="tray-block">
        <Button size="sm" disabled={search === 'searching'} onClick={() => void find()}>
          {search === 'searching' ? 'Looking for faces …' : 'Find faces'}
        </Button>
        <Form.Check
          type="switch"
          id="features-in"
          label="features in, skin out"
          disabled={chosen.length === 0}
          checked={isOn}
          onChange={(event) =>
            change((old) => withOperations(old, (list) => withFeatures(list, chosen, event.target.checked)))
          }
        />
        <p className="hint" role="status">
          {search !== 'idle' && search !== 'searching'
            ? search
            : faces.length > 0
              ? 'Press on a part in the picture to put it in or take it out.'
              : 'Eyes, brows and lips in; skin stays as it is.'}
        </p>
      </div>
      {faces.length > 0 && (
        <fieldset className="tray-block face-list">
          <legend>Faces that count</legend>
          {faces.map((face) => (
            <Form.Check
              key={face.id}
              type="checkbox"
              id={`counts-${face.id}`}
              label={`${face.name}, ${face.parts.length} parts`}
              checked={isChosen(face)}
              onChange={(event) =>
                onChoose(
                  faces
                    .filter((other) => (other === face ? event.target.checked : isChosen(other)))
                    .map(({ id }) => id),
                )
              }
            />
          ))}
          {lesser.length > 0 && (
            <button
              type="button"
              className="link-button"
              onClick={() => onChoose(faces.filter((face) => !lesser.includes(face)).map(({ id }) => id))}
            >
              leave out {lesser.length === 1 ? 'the small or poor one' : `${lesser.length} small or poor ones`}
            </button>
          )}
        </fieldset>
      )}
    </>
  );
}
