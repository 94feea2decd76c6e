import { useEffect, useState } from 'react';
import Button from 'react-bootstrap/Button';
import {
  addFace,
  FACE_PARTS,
  placePart,
  removeFace,
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
import { FacesLayer, partAt } from '../surfaces/FacesLayer';
import { FrameSurface, type SurfacePointer } from '../surfaces/FrameSurface';
import { findFaces } from '../surfaces/faceFinder';
import type { Column } from '../surfaces/tileKeys';
import { useLikeness } from './useLikeness';
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
  const [armed, setArmed] = useState<FacePartName | null>(null);
  const [drawing, setDrawing] = useState<{ part: FacePart; isMove: boolean; dx: number; dy: number } | null>(null);
  const [search, setSearch] = useState<'idle' | 'searching' | string>('idle');
  const face = faces.find(({ id }) => id === faceId) ?? faces[0] ?? null;
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
  }, [armed, onClose]);

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

  const usualRadius = face?.parts[0] ? Math.max(face.parts[0].rx, 4) : Math.max(6, Math.round(frame.width / 100));
  const onPointer = ({ kind, x, y }: SurfacePointer) => {
    if (kind === 'down' && armed) {
      setDrawing({ part: { part: armed, x, y, rx: usualRadius, ry: usualRadius }, isMove: false, dx: 0, dy: 0 });
    } else if (kind === 'down' && face) {
      const hit = partAt(face.parts, x, y);
      if (hit) setDrawing({ part: hit, isMove: true, dx: hit.x - x, dy: hit.y - y });
    } else if (kind === 'move' && drawing) {
      const { part, isMove, dx, dy } = drawing;
      const far = Math.hypot(x - part.x, y - part.y);
      if (isMove) setDrawing({ ...drawing, part: { ...part, x: x + dx, y: y + dy } });
      else if (far > 3) setDrawing({ ...drawing, part: { ...part, rx: far, ry: far } });
    } else if (drawing && face) {
      change((old) => placePart(old, face.id, rounded(drawing.part)));
      setDrawing(null);
      if (!drawing.isMove) setArmed(null);
    }
  };

  const title = titles[selected];
  return (
    <section className="likeness" aria-label="Likeness">
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
        <Button size="sm" disabled={search === 'searching'} onClick={() => void find()}>
          {search === 'searching' ? 'Looking for faces …' : 'Find faces'}
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
              <FacesLayer placement={placement} faces={shownFaces(faces, face, drawing?.part ?? null)} own={face} />
            )}
          />
          <div className="part-buttons" role="group" aria-label="Place a part by hand">
            {FACE_PARTS.map((part) => (
              <button
                key={part}
                type="button"
                aria-pressed={armed === part}
                className={face?.parts.some((other) => other.part === part) ? 'is-placed' : ''}
                onClick={() => arm(part)}
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

const rounded = ({ part, x, y, rx, ry }: FacePart): FacePart => {
  const tenth = (value: number) => Math.round(10 * value) / 10;
  return { part, x: tenth(x), y: tenth(y), rx: tenth(rx), ry: tenth(ry) };
};

/** The faces with the part that is just being drawn or moved. */
function shownFaces(faces: readonly Face[], own: Face | null, drawing: FacePart | null): readonly Face[] {
  if (!own || !drawing) return faces;
  return faces.map((face) =>
    face === own ? { ...face, parts: [...face.parts.filter(({ part }) => part !== drawing.part), drawing] } : face,
  );
}
