import { useEffect, useState } from 'react';
import Button from 'react-bootstrap/Button';
import { useNavigate, useSearchParams } from 'react-router';
import { handHeldS, practiceBlurPx, practiceFaultOf, USUAL_SPEC, type PracticeSpec } from '@vitrocept/core';
import { usePhotograph, usePractice } from '../api/practiceQueries';
import { Challenges } from './Challenges';
import { SpecForm } from './SpecForm';
import { BeginTour } from './Tour';
import './practice.css';

const PREVIEW_AFTER_MS = 300;

/** A known scene is photographed with a chosen fault; what is made of it can be held against the truth. */
export function Practice() {
  const { data, error } = usePractice();
  const [params, setParams] = useSearchParams();
  const spec = specOf(params.get('spec'));
  const change = (part: Partial<PracticeSpec>) =>
    setParams({ spec: JSON.stringify({ ...spec, ...part }) }, { replace: true });
  const photograph = usePhotograph();
  const navigate = useNavigate();
  const take = async (wish: Parameters<typeof photograph.mutateAsync>[0]) => {
    const { frameId } = await photograph.mutateAsync(wish);
    await navigate(`/frames/${frameId}/measure`);
  };
  const fault = practiceFaultOf(spec);
  return (
    <main className="page practice">
      <h1>Practice camera</h1>
      <p className="text-soft">
        Photograph a known scene with a fault of your choosing, recover it as always, and hold the result, and what the
        audit said of it, against the truth.
      </p>
      <p>
        <BeginTour />
      </p>
      {error && <p className="text-damaged">{error.message}</p>}
      <div className="practice-room">
        <section className="card-plain" aria-label="The photograph">
          <SpecForm spec={spec} scenes={data?.scenes ?? []} onChange={change} />
        </section>
        <section className="card-plain practice-view" aria-label="What the camera sees">
          <Preview spec={spec} fault={fault} />
          <p className="figure" role="status">
            {blurWords(spec)}
          </p>
          <div className="tray-buttons">
            <Button
              disabled={fault !== null || photograph.isPending}
              onClick={() => void take({ spec }).catch(() => undefined)}
            >
              {photograph.isPending ? 'Photographing …' : 'Photograph'}
            </Button>
            <Button variant="outline-primary" onClick={() => change({ seed: spec.seed + 1 })}>
              Another one like it
            </Button>
            <Button variant="outline-primary" onClick={() => setParams({}, { replace: true })}>
              As at first
            </Button>
          </div>
          {photograph.error && (
            <p className="text-damaged" role="alert">
              {photograph.error.message}
            </p>
          )}
        </section>
      </div>
      {data && (
        <Challenges
          challenges={data.challenges}
          isBusy={photograph.isPending}
          onTake={(name) => void take({ challenge: name }).catch(() => undefined)}
        />
      )}
    </main>
  );
}

function Preview({ spec, fault }: { spec: PracticeSpec; fault: string | null }) {
  const wanted = fault ? null : `/api/practice/preview.jpg?spec=${encodeURIComponent(JSON.stringify(spec))}`;
  const [address, setAddress] = useState<string | null>(null);
  const [state, setState] = useState<'drawn' | 'drawing' | 'failed'>('drawing');
  useEffect(() => {
    if (wanted === null) return undefined;
    // Whoever drags a value waits for the last one only.
    const timer = setTimeout(() => {
      setState('drawing');
      setAddress(wanted);
    }, PREVIEW_AFTER_MS);
    return () => clearTimeout(timer);
  }, [wanted]);
  if (fault) return <p className="text-check practice-nothing">{fault}</p>;
  const isDrawn = state === 'drawn' && address === wanted;
  return (
    <div className={isDrawn ? '' : 'is-updating'}>
      {address && (
        <img
          src={address}
          alt="The photograph as it would be"
          width={840}
          height={560}
          onLoad={() => setState('drawn')}
          onError={() => setState('failed')}
        />
      )}
      {state === 'failed' ? (
        <p className="text-damaged">That cannot be photographed: is the frame sharp, and still there?</p>
      ) : (
        <p className="hint" role="status">
          {isDrawn ? 'As it would be taken.' : 'Being drawn …'}
        </p>
      )}
    </div>
  );
}

function specOf(text: string | null): PracticeSpec {
  if (!text) return USUAL_SPEC;
  try {
    return { ...USUAL_SPEC, ...(JSON.parse(text) as Partial<PracticeSpec>) };
  } catch {
    return USUAL_SPEC;
  }
}

/** What the figures come to. */
function blurWords(spec: PracticeSpec): string {
  const px = practiceBlurPx(spec).toFixed(1);
  switch (spec.fault) {
    case 'none':
      return `Sharp; noise of ISO ${spec.iso}.`;
    case 'missed-focus':
      return `A point becomes a circle of ${px} px.`;
    case 'movement':
      return `It moves ${px} px while the shutter is open.`;
    case 'shake': {
      const most = Math.round(1 / handHeldS(spec));
      return `A steady hand shakes ${px} px; by the rule of thumb 1/${most} s would do.`;
    }
    case 'softness':
      return `Soft by ${px} px at half maximum.`;
  }
}
