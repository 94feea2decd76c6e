import { yupResolver } from '@hookform/resolvers/yup';
import Button from 'react-bootstrap/Button';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { Link, useNavigate } from 'react-router';
import { object, string } from 'yup';
import type { ShootSummary } from '@vitrocept/server';
import { useChangeShoot, useNewShoot, useShoots } from '../api/queries';
import { RenameDialog } from '../parts/RenameDialog';
import { BeginTour } from '../practice/Tour';
import { useTourStore } from '../stores/tourStore';
import { DropArea } from './DropArea';
import { PileBar } from './PileBar';
import { filesForNextSheet } from './filesForNextSheet';
import './shoots.css';

const newShootForm = object({
  name: string().trim().required('Give the shoot a name.').max(120, 'At most 120 letters.'),
});

export function Shoots() {
  const { data: shoots, error, isPending } = useShoots();
  const newShoot = useNewShoot();
  const navigate = useNavigate();
  const { register, handleSubmit, setError, setValue, getValues, formState } = useForm({
    resolver: yupResolver(newShootForm),
    defaultValues: { name: '' },
  });
  const isTourClosed = useTourStore((state) => state.isClosed || state.frameId !== null);
  const changeShoot = useChangeShoot();
  const [renamed, setRenamed] = useState<ShootSummary | null>(null);
  const [removed, setRemoved] = useState<ShootSummary | null>(null);
  const problem = formState.errors.name?.message;

  const create = (files: File[]) =>
    handleSubmit(async ({ name }) => {
      try {
        const shoot = await newShoot.mutateAsync(name);
        filesForNextSheet.give(shoot.id, files);
        await navigate(`/shoots/${shoot.id}`);
      } catch (error_) {
        setError('name', { message: (error_ as Error).message });
      }
    });
  const today = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'long', year: 'numeric' }).format(new Date());

  return (
    <main className="page">
      <h1>Shoots</h1>
      {!isTourClosed && (
        <p className="text-soft">
          New here? <BeginTour />
        </p>
      )}
      {error && <p className="text-damaged">{error.message}</p>}
      {isPending && <p className="text-soft">Loading …</p>}
      {(removed || changeShoot.error) && (
        <p role="status">
          {changeShoot.error?.message ?? `“${removed!.name}” lies in the trash.`}{' '}
          {removed && (
            <button
              type="button"
              className="link-button"
              onClick={() =>
                changeShoot.mutate({ id: removed.id, isRemoved: false }, { onSuccess: () => setRemoved(null) })
              }
            >
              undo
            </button>
          )}
        </p>
      )}
      <div className="shoot-cards">
        {shoots?.map((shoot) => (
          <div key={shoot.id} className="shoot-place">
            <Link to={`/shoots/${shoot.id}`} className="card-plain shoot-card">
              <div className="covers">
                {shoot.coverFrameIds.map((id) => (
                  <img key={id} src={`/api/frames/${id}/view.jpg?side=320`} alt="" />
                ))}
                {shoot.coverFrameIds.length === 0 && <span className="text-soft">no frames yet</span>}
              </div>
              <strong>{shoot.name}</strong>
              <span className="text-soft">
                {shoot.frameCount} {shoot.frameCount === 1 ? 'frame' : 'frames'}
              </span>
              <PileBar piles={shoot.piles} />
            </Link>
            <div className="shoot-acts">
              <button type="button" className="link-button" onClick={() => setRenamed(shoot)}>
                rename
              </button>
              <button
                type="button"
                className="link-button"
                aria-label={`Remove ${shoot.name}`}
                onClick={() =>
                  changeShoot.mutate({ id: shoot.id, isRemoved: true }, { onSuccess: () => setRemoved(shoot) })
                }
              >
                remove
              </button>
            </div>
          </div>
        ))}
      </div>
      <p>
        <Link to="/trash">Trash</Link> <span className="text-soft">what was removed, until it is emptied</span>
      </p>
      {renamed && (
        <RenameDialog
          what="the shoot"
          name={renamed.name}
          onRename={(name) => changeShoot.mutate({ id: renamed.id, name })}
          onHide={() => setRenamed(null)}
        />
      )}
      <section className="card-plain new-shoot" aria-label="New shoot">
        <h2>New shoot</h2>
        <form onSubmit={(event) => void create([])(event)}>
          <label htmlFor="shoot-name">Name</label>
          <input id="shoot-name" placeholder={`Shoot of ${today}`} {...register('name')} />
          <Button type="submit" variant="outline-primary">
            Make an empty shoot
          </Button>
        </form>
        {problem && (
          <p className="text-damaged" role="alert">
            {problem}
          </p>
        )}
        <DropArea
          text="Drop frames or a folder here"
          onFiles={(files) => {
            if (!getValues('name').trim()) setValue('name', `Shoot of ${today}`);
            void create(files)();
          }}
        />
      </section>
    </main>
  );
}
