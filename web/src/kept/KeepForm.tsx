import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import Modal from 'react-bootstrap/Modal';
import { keepPrescription, keptSentence, MOST_KEPT_NAME, usualWays, type Prescription } from '@vitrocept/core';
import { useKeepFrom } from '../api/keptQueries';
import type { FrameDetail } from '../api/queries';
import { useFrameStore } from '../stores/frameStore';
import { WaysForm } from './WaysForm';
import './kept.css';

interface KeepFormProps {
  readonly frame: FrameDetail;
  readonly prescription: Prescription;
  onHide(): void;
}

/** Saves the present prescription under a name, part by part. */
export function KeepForm({ frame, prescription, onHide }: KeepFormProps) {
  const [name, setName] = useState('');
  const [ways, setWays] = useState(() => usualWays(prescription));
  const saveNow = useFrameStore((state) => state.saveNow);
  const keep = useKeepFrom();
  const sentence = keptSentence(keepPrescription(name || ' ', ways, frame, prescription));
  const [isUnsaved, setUnsaved] = useState(false);
  const submit = async () => {
    const revision = await saveNow(frame.id);
    setUnsaved(revision === null);
    if (revision !== null) keep.mutate({ frameId: frame.id, name: name.trim(), ways }, { onSuccess: onHide });
  };
  return (
    <Modal show onHide={onHide} aria-labelledby="keep-title">
      <Modal.Header closeButton>
        <Modal.Title id="keep-title">Keep this prescription</Modal.Title>
      </Modal.Header>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          void submit();
        }}
      >
        <Modal.Body>
          <label className="keep-name">
            <span>Name</span>
            <input value={name} maxLength={MOST_KEPT_NAME} autoFocus onChange={({ target }) => setName(target.value)} />
          </label>
          <WaysForm ways={ways} onChange={setWays} />
          <p className="kept-sentence">{sentence}</p>
          {(keep.error || isUnsaved) && (
            <p className="text-damaged" role="alert">
              {keep.error?.message ?? 'The last change is not saved yet; try again when it is.'}
            </p>
          )}
        </Modal.Body>
        <Modal.Footer>
          <Button variant="outline-primary" onClick={onHide}>
            Cancel
          </Button>
          <Button type="submit" disabled={!name.trim() || keep.isPending}>
            Keep
          </Button>
        </Modal.Footer>
      </form>
    </Modal>
  );
}
