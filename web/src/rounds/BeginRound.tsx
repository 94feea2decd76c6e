import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import Modal from 'react-bootstrap/Modal';
import { Link, useNavigate } from 'react-router';
import {
  DEFAULT_JPEG_QUALITY,
  LONG_EDGE_PX,
  MOST_PATTERN,
  NAME_TOKENS,
  nameFrom,
  patternFault,
  SAVE_FORMAT_DESCRIPTIONS,
  SAVE_FORMATS,
  USUAL_NAME_PATTERN,
  type SaveFormat,
} from '@vitrocept/core';
import type { ListedKept, SheetFrame } from '@vitrocept/server';
import { useKept } from '../api/keptQueries';
import { useBeginRound } from '../api/roundQueries';
import './rounds.css';

interface BeginRoundProps {
  readonly frames: readonly SheetFrame[];
  onHide(): void;
}

/** Chosen frames, a kept prescription, and how the results are saved. */
export function BeginRound({ frames, onHide }: BeginRoundProps) {
  const { data: all, error } = useKept();
  const begin = useBeginRound();
  const navigate = useNavigate();
  const [keptId, setKeptId] = useState<string | null>(null);
  const [format, setFormat] = useState<SaveFormat>('tiff16');
  const [quality, setQuality] = useState(DEFAULT_JPEG_QUALITY);
  const [namePattern, setPattern] = useState(USUAL_NAME_PATTERN);
  const [folder, setFolder] = useState('');
  const [longEdge, setLongEdge] = useState('');
  const picked = all?.find(({ id }) => id === keptId) ?? all?.[0] ?? null;
  const fault = patternFault(namePattern);
  const submit = async () => {
    const wish = {
      keptId: picked!.id,
      frameIds: frames.map(({ id }) => id),
      format,
      quality,
      namePattern,
      folder,
      longEdgePx: longEdge ? Number(longEdge) : null,
    };
    const round = await begin.mutateAsync(wish);
    await navigate(`/rounds/${round.id}`);
  };
  return (
    <Modal show onHide={onHide} aria-labelledby="round-title">
      <Modal.Header closeButton>
        <Modal.Title id="round-title">
          A round over {frames.length} {frames.length === 1 ? 'frame' : 'frames'}
        </Modal.Title>
      </Modal.Header>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          submit().catch(() => undefined);
        }}
      >
        <Modal.Body className="round-form">
          <label>
            <span>Prescription</span>
            <select value={picked?.id ?? ''} onChange={({ target }) => setKeptId(target.value)}>
              {all?.map(({ id, kept }) => (
                <option key={id} value={id}>
                  {kept.name}
                </option>
              ))}
            </select>
          </label>
          <p className="text-soft">
            {picked?.sentence} <Link to="/prescriptions">All kept prescriptions</Link>
          </p>
          <label>
            <span>Format</span>
            <select value={format} onChange={({ target }) => setFormat(target.value as SaveFormat)}>
              {SAVE_FORMATS.map((value) => (
                <option key={value} value={value}>
                  {SAVE_FORMAT_DESCRIPTIONS[value].name}
                </option>
              ))}
            </select>
          </label>
          {format === 'jpeg' && (
            <label>
              <span>Quality</span>
              <input
                type="number"
                min={1}
                max={100}
                value={quality}
                onChange={({ target }) => setQuality(Math.min(100, Math.max(1, Math.round(Number(target.value)) || 1)))}
              />
            </label>
          )}
          <label>
            <span>Long edge, px</span>
            <input
              type="number"
              min={LONG_EDGE_PX.least}
              max={LONG_EDGE_PX.most}
              value={longEdge}
              placeholder="as it is"
              onChange={({ target }) => setLongEdge(target.value)}
            />
          </label>
          <label>
            <span>Names</span>
            <input value={namePattern} maxLength={MOST_PATTERN} onChange={({ target }) => setPattern(target.value)} />
          </label>
          <p className={fault ? 'text-damaged' : 'text-soft'} role={fault ? 'alert' : undefined}>
            {fault ?? `First: ${exampleOf(namePattern, frames[0], picked, format)}`}
            {!fault && ` · ${NAME_TOKENS.map((token) => `{${token}}`).join(' ')}`}
          </p>
          <label>
            <span>Folder in the outbox</span>
            <input
              value={folder}
              maxLength={80}
              placeholder="none of its own"
              onChange={({ target }) => setFolder(target.value)}
            />
          </label>
          {(begin.error ?? error) && (
            <p className="text-damaged" role="alert">
              {(begin.error ?? error)!.message}
            </p>
          )}
        </Modal.Body>
        <Modal.Footer>
          <Button variant="outline-primary" onClick={onHide}>
            Cancel
          </Button>
          <Button type="submit" disabled={!picked || fault !== null || begin.isPending}>
            Begin
          </Button>
        </Modal.Footer>
      </form>
    </Modal>
  );
}

function exampleOf(pattern: string, frame: SheetFrame, picked: ListedKept | null, format: SaveFormat): string {
  const name = nameFrom(pattern, {
    stage: 'finished',
    frame: frame.name.replace(/\.[^.]*$/, ''),
    counter: '001',
    date: (frame.exposure.takenAt ?? new Date().toISOString()).slice(0, 10),
    prescription: picked?.kept.name ?? '',
  });
  return `${name}${SAVE_FORMAT_DESCRIPTIONS[format].ending}`;
}
