import Modal from 'react-bootstrap/Modal';
import { BeginTour } from '../practice/Tour';
import { KEYS } from '../input/keys';

export function KeysHelp({ show, onHide }: { show: boolean; onHide(): void }) {
  return (
    <Modal show={show} onHide={onHide} aria-labelledby="keys-title">
      <Modal.Header closeButton>
        <Modal.Title id="keys-title">Keys</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <dl className="keys">
          {KEYS.map(([key, does]) => (
            <div key={key}>
              <dt>
                <kbd>{key}</kbd>
              </dt>
              <dd>{does}</dd>
            </div>
          ))}
        </dl>
        <BeginTour onBegun={onHide} />
      </Modal.Body>
    </Modal>
  );
}
