import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import Modal from 'react-bootstrap/Modal';

interface RenameDialogProps {
  readonly what: string;
  readonly name: string;
  onRename(name: string): void;
  onHide(): void;
}

export function RenameDialog({ what, name, onRename, onHide }: RenameDialogProps) {
  const [wanted, setWanted] = useState(name);
  const cleaned = wanted.trim();
  return (
    <Modal show onHide={onHide} aria-labelledby="rename-title">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (cleaned !== name) onRename(cleaned);
          onHide();
        }}
      >
        <Modal.Header closeButton>
          <Modal.Title id="rename-title">Rename {what}</Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <input
            aria-label={`Name of ${what}`}
            value={wanted}
            maxLength={120}
            autoFocus
            onFocus={(event) => event.target.select()}
            onChange={(event) => setWanted(event.target.value)}
          />
        </Modal.Body>
        <Modal.Footer>
          <Button type="submit" disabled={cleaned === ''}>
            Rename
          </Button>
        </Modal.Footer>
      </form>
    </Modal>
  );
}
