import Button from 'react-bootstrap/Button';
import { AUDIT_MAPS, type AuditMap } from '@vitrocept/core';
import { moveInGroup } from '../input/arrowKeys';
import { MAGNIFICATIONS, useWallStore, type Magnification } from '../stores/wallStore';
import { MAP_NAMES, WAYS, type Way } from './closeLookWays';

interface CloseLookHeadProps {
  readonly title: string;
  readonly probeName: string;
  readonly way: Way;
  setWay(way: Way): void;
  readonly blinks: number;
  setBlinks(aSecond: number): void;
  readonly map: AuditMap | null;
  setMap(map: AuditMap | null): void;
  onClose(): void;
}

/** What is looked at, how it is compared, what is drawn over it, how large. */
export function CloseLookHead(props: CloseLookHeadProps) {
  const { title, probeName, way, setWay, blinks, setBlinks, map, setMap, onClose } = props;
  const { magnification, setMagnification } = useWallStore();
  return (
    <div className="close-look-head">
      <strong>{title}</strong>
      <span className="text-soft">at {probeName}</span>
      <div className="way-buttons" role="radiogroup" aria-label="How to compare" onKeyDown={moveInGroup}>
        {(Object.keys(WAYS) as Way[]).map((value) => (
          <button
            key={value}
            type="button"
            role="radio"
            aria-checked={way === value}
            tabIndex={way === value ? 0 : -1}
            onClick={() => setWay(value)}
          >
            {WAYS[value]}
          </button>
        ))}
      </div>
      {way === 'blink' && (
        <label className="blink-rate">
          <input
            type="range"
            min={0.3}
            max={2.8}
            step={0.1}
            value={blinks}
            aria-label="Blinks a second"
            onChange={(event) => setBlinks(Number(event.target.value))}
          />
          <span className="figure">{blinks.toFixed(1)} a second</span>
        </label>
      )}
      <label>
        drawn{' '}
        <select
          aria-label="Drawn over the pixels"
          value={map ?? ''}
          onChange={(event) => setMap((event.target.value || null) as AuditMap | null)}
        >
          {AUDIT_MAPS.map((value) => (
            <option key={value} value={value}>
              {MAP_NAMES[value]}
            </option>
          ))}
          <option value="">nothing</option>
        </select>
      </label>
      <select
        aria-label="Magnification of the close look"
        value={magnification}
        onChange={(event) => setMagnification(Number(event.target.value) as Magnification)}
      >
        {MAGNIFICATIONS.map((value) => (
          <option key={value} value={value}>
            {value} %
          </option>
        ))}
      </select>
      <Button size="sm" variant="outline-primary" onClick={onClose}>
        Back to the Wall <kbd>Esc</kbd>
      </Button>
    </div>
  );
}
