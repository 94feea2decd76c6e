import { useRef, useState } from 'react';
import Button from 'react-bootstrap/Button';
import { MOST_KEPT_NAME } from '@vitrocept/core';
import type { ListedKept } from '@vitrocept/server';
import { useBringKeptIn, useKept, useKeptChange, useRenameKept } from '../api/keptQueries';
import { keptWays, PART_NAMES } from './WaysForm';
import './kept.css';

/** Prescriptions under a name: what each does, renamed, duplicated, removed, exported, brought in. */
export function KeptPrescriptions() {
  const { data: all, error, isPending } = useKept();
  const change = useKeptChange();
  const bringIn = useBringKeptIn();
  const [removed, setRemoved] = useState<ListedKept | null>(null);
  const [refusal, setRefusal] = useState<string | null>(null);
  const input = useRef<HTMLInputElement>(null);

  const read = async (file: File) => {
    setRefusal(null);
    let body: unknown;
    try {
      body = JSON.parse(await file.text());
    } catch {
      setRefusal(`${file.name} is not JSON.`);
      return;
    }
    bringIn.mutate(body, { onError: ({ message }) => setRefusal(`${file.name}: ${message}`) });
  };

  return (
    <main className="page">
      <div className="sheet-head">
        <h1>Kept prescriptions</h1>
        <div className="sheet-acts">
          <Button variant="outline-primary" onClick={() => input.current?.click()}>
            Bring one in from a file
          </Button>
          <input
            ref={input}
            type="file"
            accept="application/json,.json"
            hidden
            aria-label="Kept prescription to bring in"
            onChange={({ target }) => {
              const [file] = target.files ?? [];
              if (file) void read(file);
              target.value = '';
            }}
          />
        </div>
      </div>
      {error && <p className="text-damaged">{error.message}</p>}
      {refusal && (
        <p className="text-damaged" role="alert">
          {refusal}
        </p>
      )}
      {isPending && <p className="text-soft">Loading …</p>}
      {all?.length === 0 && (
        <p className="text-soft">None is kept. In a frame’s Hand over step the present prescription can be kept.</p>
      )}
      {removed && (
        <p role="status">
          “{removed.kept.name}” was removed.{' '}
          <button
            type="button"
            className="link-button"
            onClick={() => change.mutate({ id: removed.id, act: 'restore' }, { onSuccess: () => setRemoved(null) })}
          >
            Take it back
          </button>
        </p>
      )}
      <div className="kept-list">
        {all?.map((one) => (
          <KeptCard
            key={one.id}
            one={one}
            onDuplicate={() => change.mutate({ id: one.id, act: 'duplicate' })}
            onRemove={() => change.mutate({ id: one.id, act: 'remove' }, { onSuccess: () => setRemoved(one) })}
          />
        ))}
      </div>
    </main>
  );
}

interface KeptCardProps {
  readonly one: ListedKept;
  onDuplicate(): void;
  onRemove(): void;
}

function KeptCard({ one: { id, kept, sentence }, onDuplicate, onRemove }: KeptCardProps) {
  const rename = useRenameKept();
  const commit = (name: string) => {
    if (name.trim() && name.trim() !== kept.name) rename.mutate({ id, name: name.trim() });
  };
  return (
    <article className="card-plain kept-card" aria-label={kept.name}>
      <input
        key={kept.name}
        className="kept-name"
        aria-label="Name"
        defaultValue={kept.name}
        maxLength={MOST_KEPT_NAME}
        onBlur={({ target }) => commit(target.value)}
        onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
      />
      <p className="kept-sentence">{sentence}</p>
      <dl className="facts">
        {keptWays(kept.ways).map(({ part, way }) => (
          <div key={part} className="fact-line">
            <dt>{PART_NAMES[part]}</dt>
            <dd>{way}</dd>
          </div>
        ))}
      </dl>
      {rename.error && <p className="text-damaged">{rename.error.message}</p>}
      <div className="tray-buttons">
        <button type="button" className="link-button" onClick={onDuplicate}>
          Duplicate
        </button>
        <a
          className="link-button"
          href={`data:application/json;charset=utf-8,${encodeURIComponent(JSON.stringify(kept, null, 1))}`}
          download={`${kept.name}.json`}
        >
          Export
        </a>
        <button type="button" className="link-button" onClick={onRemove}>
          Remove
        </button>
      </div>
    </article>
  );
}
