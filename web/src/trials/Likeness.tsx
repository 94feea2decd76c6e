import { useEffect, useState } from 'react';
import {
  addFace,
  FACE_PARTS,
  removePart,
  withFoundFaces,
  type Face,
  type FacePart,
  type FacePartName,
} from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { LikenessRow } from './LikenessRow';
import { isTyping } from '../input/keys';
import { useFrameStore } from '../stores/frameStore';
import { FacesLayer } from '../surfaces/FacesLayer';
import { FrameSurface } from '../surfaces/FrameSurface';
import { findFaces } from '../surfaces/faceFinder';
import type { Column } from '../surfaces/tileKeys';
import { LikenessHead } from './LikenessHead';
import { useLikeness } from './useLikeness';
import { usePlacedParts } from './usePlacedParts';
import { newId } from '../input/newId';

interface LikenessProps {
  readonly frame: FrameDetail;
  readonly original: Column;
  readonly columns: readonly Column[];
  /** Names of the columns, in their order. */
  readonly titles: readonly string[];
  readonly selected: number;
  onSelect(column: number): void;
  onClose(): void;
}

/** Is it still the same face? Every part of it held against the photograph, the worst first. */
export function Likeness({ frame, original, columns, titles, selected, onSelect, onClose }: LikenessProps) {
  const { prescription, change, changeIn } = useFrameStore();
  const faces = prescription?.faces ?? [];
  const [faceId, setFaceId] = useState<string | null>(null);
  const [search, setSearch] = useState('idle');
  const face = faces.find(({ id }) => id === faceId) ?? faces[0] ?? null;
  const { armed, setArmed, drawn, onPointer } = usePlacedParts(face, frame.width);
  const judged = useLikeness(frame, original, columns[selected], face);
  const sorted = [...judged].sort((p, q) => (q.likeness?.level ?? -1) - (p.likeness?.level ?? -1));

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key !== 'Escape' || isTyping(event)) return;
      if (armed) setArmed(null);
      else onClose();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [armed, setArmed, onClose]);

  const find = async () => {
    setSearch('searching');
    try {
      const found = await findFaces(frame);
      if (found.length > 0) changeIn(frame.id, (old) => withFoundFaces(old, found, newId));
      setFaceId(null);
      setSearch(
        found.length > 0
          ? 'idle'
          : 'No face of a person was found. Place the parts by hand; that works for animals and puppets too.',
      );
    } catch (error) {
      setSearch(`The search failed: ${(error as Error).message}`);
    }
  };

  const arm = (part: FacePartName) => {
    if (!face) {
      const id = newId();
      change((old) => addFace(old, id));
      setFaceId(id);
    }
    setArmed(part === armed ? null : part);
  };

  const title = titles[selected];
  return (
    <section className="likeness" aria-label="Likeness">
      <LikenessHead
        {...{ titles, selected, onSelect, faces, face, setFaceId, onClose }}
        isSearching={search === 'searching'}
        onFind={() => void find()}
      />
      {search !== 'idle' && search !== 'searching' && (
        <p className="likeness-note" role="status">
          {search}
        </p>
      )}
      <div className="likeness-body">
        <div className="likeness-picture">
          <FrameSurface
            frame={frame}
            label="The frame and its faces"
            cursor={armed ? 'crosshair' : 'default'}
            onPointer={onPointer}
            draws
            overlay={(placement) => (
              <FacesLayer placement={placement} faces={shownFaces(faces, face, drawn)} own={face} />
            )}
          />
          <PartButtons face={face} armed={armed} onArm={arm} />
        </div>
        <div className="likeness-rows" aria-label={`Parts in ${title}`} role="list">
          {sorted.length === 0 ? (
            <p className="text-soft">
              Find faces, or place the parts by hand: a recovery can change a gaze or an iris before anybody notices.
            </p>
          ) : (
            sorted.map((part) => (
              <LikenessRow
                key={part.part.part}
                judged={part}
                title={title}
                onRemove={() => face && change((old) => removePart(old, face.id, part.part.part))}
              />
            ))
          )}
        </div>
      </div>
    </section>
  );
}

/** The faces with the part that is just being drawn or moved. */
function shownFaces(faces: readonly Face[], own: Face | null, drawing: FacePart | null): readonly Face[] {
  if (!own || !drawing) return faces;
  return faces.map((face) =>
    face === own ? { ...face, parts: [...face.parts.filter(({ part }) => part !== drawing.part), drawing] } : face,
  );
}

interface PartButtonsProps {
  readonly face: Face | null;
  readonly armed: FacePartName | null;
  onArm(part: FacePartName): void;
}

/** The parts of a face, to be placed by hand. */
function PartButtons({ face, armed, onArm }: PartButtonsProps) {
  return (
    <>
      <div className="part-buttons" role="group" aria-label="Place a part by hand">
        {FACE_PARTS.map((part) => (
          <button
            key={part}
            type="button"
            aria-pressed={armed === part}
            className={face?.parts.some((other) => other.part === part) ? 'is-placed' : ''}
            onClick={() => onArm(part)}
          >
            {part}
          </button>
        ))}
      </div>
      <p className="text-soft hint">
        {armed
          ? `Press on the middle of the ${armed} and drag outward to its edge.`
          : 'Choose a part to place it by hand; drag a part to move it. Turn the wheel to zoom.'}
      </p>
    </>
  );
}
