import { ImagePlus } from 'lucide-react';
import { useDropzone } from 'react-dropzone';
import type { Arrival } from './useBringIn';

/** Takes files and folders by drop, or by the file dialog. Whether a file is a picture is decided by its bytes. */
export function DropArea({ onFiles, text }: { onFiles(files: File[]): void; text: string }) {
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    onDrop: (files) => files.length > 0 && onFiles(files),
    noClick: true,
    noKeyboard: true,
  });
  return (
    <div {...getRootProps({ className: `drop-area ${isDragActive ? 'is-over' : ''}` })}>
      <input {...getInputProps({ 'aria-label': 'Files to bring in' })} />
      <ImagePlus size={20} aria-hidden />
      <span>
        {text}, or{' '}
        <button type="button" className="link-button" onClick={open}>
          choose files
        </button>
      </span>
      <span className="text-soft">JPEG, TIFF, PNG, AVIF, DNG or raw; the originals are kept as they are</span>
    </div>
  );
}

export function Arrivals({
  arrivals,
  isBusy,
  onClear,
}: {
  arrivals: readonly Arrival[];
  isBusy: boolean;
  onClear(): void;
}) {
  if (arrivals.length === 0) return null;
  const done = arrivals.filter(({ outcome }) => outcome === 'in' || outcome === 'known').length;
  const refused = arrivals.filter(({ outcome }) => outcome === 'refused');
  return (
    <section className="card-plain arrivals" aria-label="Bringing in" aria-live="polite">
      <div className="card-head">
        <h2>
          {isBusy
            ? `Bringing in: ${done + refused.length} of ${arrivals.length}`
            : `${done} of ${arrivals.length} came in`}
        </h2>
        {!isBusy && (
          <button type="button" className="link-button" onClick={onClear}>
            close
          </button>
        )}
      </div>
      <progress
        value={arrivals.reduce((sum, { share, outcome }) => sum + (outcome === 'refused' ? 1 : share), 0)}
        max={arrivals.length}
      />
      <ul>
        {arrivals
          .filter(({ outcome, sentence }) => outcome === 'sending' || sentence)
          .map(({ id, name, outcome, sentence, share, preview }) => (
            <li key={id} className={outcome === 'refused' ? 'text-damaged' : 'text-soft'}>
              {outcome === 'sending' && preview && (
                <img className="first-look" src={preview} alt={`${name}, as its camera showed it`} />
              )}
              <strong>{name}</strong> {sentence ?? (share < 1 ? `${Math.round(share * 100)} %` : 'being checked')}
            </li>
          ))}
      </ul>
    </section>
  );
}
