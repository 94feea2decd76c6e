import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import { Link } from 'react-router';
import { SAVE_FORMAT_DESCRIPTIONS, saveFormatsFor, type SaveFormat } from '@vitrocept/core';
import type { HandOffDetail } from '@vitrocept/server';
import { useHandOffAct, useHandOffs, useNewHandOff, type HandOffForm } from '../api/handOffQueries';
import { useKept } from '../api/keptQueries';
import { useShoots } from '../api/queries';
import './handOff.css';

/** Watched folders: another program lays files there, and finds results. */
export function HandOffFolders() {
  const { data: folders, error, isPending } = useHandOffs();
  return (
    <main className="page">
      <h1>Hand-off folders</h1>
      <p className="text-soft hand-off-why">
        A file that another program lays into such a folder becomes a frame of the shoot you name, as soon as it is
        whole, and is moved to <em>taken</em>. With a kept prescription it is recovered by itself, and the result lies
        in the folder of results. What is no picture is moved to <em>refused</em>, with the reason here.
      </p>
      {error && <p className="text-damaged">{error.message}</p>}
      {isPending && <p className="text-soft">Loading …</p>}
      {folders?.map((folder) => (
        <Folder key={folder.id} folder={folder} />
      ))}
      <NewFolder />
    </main>
  );
}

function Folder({ folder }: { folder: HandOffDetail }) {
  const act = useHandOffAct();
  const [asks, setAsks] = useState(false);
  return (
    <article className="card-plain hand-off" aria-label={folder.folder}>
      <div className="card-head">
        <h2>{folder.folder}</h2>
        {asks ? (
          <span>
            The folder and all in it stay; it is only watched no more.{' '}
            <button type="button" className="link-button" onClick={() => act.mutate({ id: folder.id, to: null })}>
              watch it no more
            </button>{' '}
            <button type="button" className="link-button" onClick={() => setAsks(false)}>
              keep
            </button>
          </span>
        ) : (
          <button type="button" className="link-button" onClick={() => setAsks(true)}>
            give up …
          </button>
        )}
      </div>
      <dl>
        <dt>files go into</dt>
        <dd className="figure">{folder.inbox}</dd>
        {folder.keptId && (
          <>
            <dt>results lie in</dt>
            <dd className="figure">{folder.results}</dd>
          </>
        )}
      </dl>
      <Ways
        name={folder.folder}
        ways={folder}
        onChange={({ shootId, keptId, format }) => act.mutate({ id: folder.id, to: { shootId, keptId, format } })}
      />
      {act.error && <p className="text-damaged">{act.error.message}</p>}
      <p>
        <Link to={`/shoots/${folder.shootId}`}>{folder.shootName}</Link>
        {folder.roundId && (
          <>
            {' · '}
            <Link to={`/rounds/${folder.roundId}`}>its round</Link>
          </>
        )}
      </p>
      {folder.files.length === 0 ? (
        <p className="text-soft">Nothing has come yet.</p>
      ) : (
        <ul className="hand-off-files">
          {folder.files.slice(0, MOST_SHOWN).map((file) => (
            <li key={file.id}>
              {file.frameId ? <Link to={`/frames/${file.frameId}`}>{file.name}</Link> : file.name}{' '}
              {file.error ? (
                <span className="text-damaged">refused: {file.error}</span>
              ) : (
                <span className="text-soft">came in</span>
              )}
            </li>
          ))}
        </ul>
      )}
    </article>
  );
}

const MOST_SHOWN = 12;

interface WaysProps {
  readonly name: string;
  readonly ways: HandOffForm;
  onChange(ways: HandOffForm): void;
}

function Ways({ name, ways, onChange }: WaysProps) {
  const { data: shoots } = useShoots();
  const { data: kept } = useKept();
  return (
    <div className="hand-off-ways">
      <label>
        Shoot{' '}
        <select
          aria-label={`Shoot of ${name}`}
          value={ways.shootId}
          onChange={(event) => onChange({ ...ways, shootId: event.target.value })}
        >
          {shoots?.map((shoot) => (
            <option key={shoot.id} value={shoot.id}>
              {shoot.name}
            </option>
          ))}
        </select>
      </label>
      <label>
        by itself{' '}
        <select
          aria-label={`Prescription of ${name}`}
          value={ways.keptId ?? ''}
          onChange={(event) => onChange({ ...ways, keptId: event.target.value || null })}
        >
          <option value="">nothing: files only come in</option>
          {kept?.map(({ id, kept: { name: keptName } }) => (
            <option key={id} value={id}>
              {keptName}
            </option>
          ))}
        </select>
      </label>
      {ways.keptId && (
        <label>
          as{' '}
          <select
            aria-label={`Format of ${name}`}
            value={ways.format}
            onChange={(event) => onChange({ ...ways, format: event.target.value as SaveFormat })}
          >
            {saveFormatsFor(false).map((format) => (
              <option key={format} value={format}>
                {SAVE_FORMAT_DESCRIPTIONS[format].name}
              </option>
            ))}
          </select>
        </label>
      )}
    </div>
  );
}

function NewFolder() {
  const { data: shoots } = useShoots();
  const make = useNewHandOff();
  const [folder, setFolder] = useState('');
  const [picked, setPicked] = useState<HandOffForm | null>(null);
  const first = shoots?.[0];
  const ways = picked ?? (first && { shootId: first.id, keptId: null, format: 'tiff16' as const });
  if (!ways) return <p className="text-soft">Make a shoot first: files need one to go into.</p>;
  return (
    <form
      className="card-plain hand-off"
      aria-label="New hand-off folder"
      onSubmit={(event) => {
        event.preventDefault();
        const { shootId, keptId, format } = ways;
        make.mutate({ shootId, keptId, format, folder: folder.trim() }, { onSuccess: () => setFolder('') });
      }}
    >
      <h2>New folder</h2>
      <label>
        Name <input value={folder} maxLength={80} onChange={(event) => setFolder(event.target.value)} />
      </label>
      <Ways name="the new folder" ways={ways} onChange={setPicked} />
      {make.error && (
        <p className="text-damaged" role="alert">
          {make.error.message}
        </p>
      )}
      <div>
        <Button type="submit" variant="outline-primary" disabled={folder.trim() === '' || make.isPending}>
          Watch it
        </Button>
      </div>
    </form>
  );
}
