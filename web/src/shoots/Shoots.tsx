import { yupResolver } from '@hookform/resolvers/yup';
import Button from 'react-bootstrap/Button';
import { useForm } from 'react-hook-form';
import { Link, useNavigate } from 'react-router';
import { object, string } from 'yup';
import { useNewShoot, useShoots } from '../api/queries';
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
      {error && <p className="text-damaged">{error.message}</p>}
      {isPending && <p className="text-soft">Loading …</p>}
      <div className="shoot-cards">
        {shoots?.map((shoot) => (
          <Link key={shoot.id} to={`/shoots/${shoot.id}`} className="card-plain shoot-card">
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
        ))}
      </div>
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
