import { useRenders } from '../api/queries';
import { RenderCard } from '../parts/RenderCard';

export function Renders() {
  const { data: renders, error, isPending } = useRenders();
  return (
    <main className="page">
      <h1>Renders</h1>
      {error && <p className="text-damaged">{error.message}</p>}
      {isPending && <p className="text-soft">Loading …</p>}
      {renders?.length === 0 && (
        <p className="text-soft">Nothing has been rendered yet. Choose a trial in a frame, then Hand over.</p>
      )}
      <div className="render-list">
        {renders?.map((job) => (
          <RenderCard key={job.id} job={job} showsFrame />
        ))}
      </div>
    </main>
  );
}
