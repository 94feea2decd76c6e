import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import Modal from 'react-bootstrap/Modal';
import { checkPrescription, scaledTo, type MaskOperation, withCopiedMask } from '@vitrocept/core';
import { api } from '../api/client';
import { useShoot, type FrameDetail } from '../api/queries';
import { useFrameStore } from '../stores/frameStore';
import type { CopiedInto } from '../stores/frameWork';
import { newId } from '../input/newId';
import { tileEngine } from '../surfaces/tileEngine';

type Way = 'found' | 'literal';

/** Gives the mask at work to other frames of the shoot: the subject found again there, or the same places. */
export function CopyMask({ frame, onClose }: { frame: FrameDetail; onClose(): void }) {
  const { data: shoot } = useShoot(frame.shootId);
  const { changeElsewhere, did } = useFrameStore();
  const mask = useFrameStore((state) => state.prescription!.mask);
  const [way, setWay] = useState<Way>('found');
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const [done, setDone] = useState<Record<string, string>>({});
  const [isWorking, setWorking] = useState(false);
  const others = shoot?.frames.filter(({ id }) => id !== frame.id) ?? [];

  const copy = async () => {
    setWorking(true);
    const copied: CopiedInto[] = [];
    for (const id of chosen) {
      setDone((old) => ({ ...old, [id]: '…' }));
      let outcome: string;
      try {
        const other = await api<FrameDetail>(`/api/frames/${id}`);
        const operations: readonly MaskOperation[] =
          way === 'literal'
            ? scaledTo(mask.operations, frame, other)
            : [await tileEngine.makeArea({ frame: other, mode: 'add', wish: { kind: 'subject', dabs: [] } })];
        const { before, after } = await changeElsewhere(id, (old) =>
          checkPrescription(withCopiedMask(old, mask, operations, newId)),
        );
        copied.push({ frameId: id, name: other.name, before, after });
        outcome = before.mask.operations.length === 0 ? 'done' : 'done, as a new mask over the one there';
      } catch (error) {
        outcome = (error as Error).message;
      }
      setDone((old) => ({ ...old, [id]: outcome }));
    }
    if (copied.length > 0) did({ kind: 'copies', frames: copied });
    setWorking(false);
    setChosen([]);
  };

  return (
    <Modal show onHide={onClose} centered>
      <Modal.Header closeButton>
        <Modal.Title>Copy “{mask.name}” to other frames</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <Form.Check
          type="radio"
          id="way-found"
          name="way"
          label="find the subject again in each"
          checked={way === 'found'}
          onChange={() => setWay('found')}
        />
        <Form.Check
          type="radio"
          id="way-literal"
          name="way"
          label="the same places, as they are here"
          checked={way === 'literal'}
          onChange={() => setWay('literal')}
        />
        <fieldset className="copy-list" aria-label="Frames">
          {others.length === 0 && <p className="text-soft">This shoot has no other frame.</p>}
          {others.map(({ id, name }) => (
            <Form.Check
              key={id}
              type="checkbox"
              id={`copy-${id}`}
              label={done[id] ? `${name}: ${done[id]}` : name}
              checked={chosen.includes(id)}
              disabled={isWorking}
              onChange={(event) =>
                setChosen((old) => (event.target.checked ? [...old, id] : old.filter((other) => other !== id)))
              }
            />
          ))}
        </fieldset>
      </Modal.Body>
      <Modal.Footer>
        <button
          type="button"
          className="link-button"
          disabled={isWorking}
          onClick={() => setChosen(others.map(({ id }) => id))}
        >
          all
        </button>
        <Button disabled={isWorking || chosen.length === 0} onClick={() => void copy()}>
          {isWorking ? 'Copying …' : `Copy to ${chosen.length}`}
        </Button>
        <Button variant="outline-primary" onClick={onClose}>
          Close
        </Button>
      </Modal.Footer>
    </Modal>
  );
}

/** An empty mask takes it; a mask that is there stays, under a new one. */
