import { useState } from 'react';
import type { SaveFormat } from '@vitrocept/core';
import { useRenders } from '../api/queries';
import { RenderCard } from '../parts/RenderCard';
import { useWorkspace } from '../parts/useWorkspace';
import { FitForCard } from './FitForCard';
import { HandOverTray } from './HandOverTray';
import { WhatWillBeDone } from './WhatWillBeDone';
import './handOver.css';

/** The file for the next editor: rendered at full size by the server, kept in the outbox, downloaded here. */
export function HandOver() {
  const { frame, prescription } = useWorkspace();
  const { data: renders } = useRenders();
  const [format, setFormat] = useState<SaveFormat>('tiff16');
  const own = renders?.filter((job) => job.frameId === frame.id) ?? [];
  return (
    <>
      <div className="stage hand-over">
        <div>
          <WhatWillBeDone frame={frame} prescription={prescription} format={format} />
          <FitForCard frame={frame} prescription={prescription} />
        </div>
        <section className="render-list" aria-label="Renders of this frame">
          {own.map((job) => (
            <RenderCard key={job.id} job={job} />
          ))}
          {own.length === 0 && (
            <p className="stage-hint-text">
              Renders of this frame appear here and stay in the outbox of the data folder.
            </p>
          )}
        </section>
      </div>
      <HandOverTray frame={frame} prescription={prescription} format={format} setFormat={setFormat} />
    </>
  );
}
