import type { FastifyInstance, FastifyReply } from 'fastify';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { atStage, isSensorFormat, usualWishes } from '@vitrocept/core';
import type { Proved } from '@vitrocept/files';
import { HttpError, notFound } from '../httpError';
import type { Services } from '../services';
import { goneSignal } from './goneSignal';
import { idParams, type ById } from './schemas';

const ONE = { schema: { params: idParams } };
/** A PDF of more sheets would be looked through by nobody. */
const MOST_SHEETS = 200;
const MIME = { pdf: 'application/pdf', png: 'image/png' } as const;

/** Proof sheets: of one copy as PDF or PNG, of a round as PDF. */
export function proofRoutes(app: FastifyInstance, { stores, folder, crew }: Services): void {
  const send = async (reply: FastifyReply, copies: readonly Proved[], as: 'pdf' | 'png', name: string) => {
    const sheet = await crew.run<Uint8Array>({ kind: 'proof', copies, as }, goneSignal(reply));
    return reply
      .header('content-disposition', `attachment; filename*=UTF-8''${encodeURIComponent(`${name}.proof.${as}`)}`)
      .type(MIME[as])
      .send(Buffer.from(sheet));
  };

  const provedRender = (id: string): Proved => {
    const job = stores.renders.get(id);
    if (!job) throw notFound('render');
    if (job.state !== 'done' || !job.fileName)
      throw new HttpError(409, 'NOT_DONE', 'This render has no finished file yet.');
    const copy = join(folder.outbox, job.fileName);
    if (!existsSync(copy))
      throw new HttpError(410, 'GONE', 'The saved copy is no longer in the outbox. Render it again.');
    const frame = stores.frames.get(job.frameId)!;
    return {
      frameName: frame.name,
      original: folder.original(frame.sha256),
      copy,
      copyName: job.fileName,
      prescription: atStage(stores.renders.prescriptionOf(id), job.stages.at(-1)!),
      wishes: job.wishes,
      renderedAt: job.finishedAt!,
    };
  };

  for (const as of ['pdf', 'png'] as const) {
    app.get<ById>(`/api/renders/:id/proof.${as}`, ONE, (request, reply) => {
      const proved = provedRender(request.params.id);
      return send(reply, [proved], as, proved.copyName);
    });
  }

  app.get<ById>('/api/rounds/:id/proof.pdf', ONE, (request, reply) => {
    const round = stores.rounds.get(request.params.id);
    if (!round) throw notFound('round');
    const copies = stores.rounds.jobsOf(round.id).flatMap((job): Proved[] => {
      const copy = job.fileName && join(folder.outbox, job.fileName);
      const prescription = stores.rounds.prescriptionOf(job.id);
      if (job.state !== 'done' || !copy || !existsSync(copy) || !prescription) return [];
      const frame = stores.frames.get(job.frameId)!;
      const worst = job.judgement?.worst;
      return [
        {
          frameName: frame.name,
          original: folder.original(frame.sha256),
          copy,
          copyName: job.fileName,
          prescription,
          wishes: usualWishes(round.format, isSensorFormat(frame.format)),
          renderedAt: round.begunAt,
          worst: worst?.place ? { verdict: worst.verdict, place: worst.place } : null,
        },
      ];
    });
    if (copies.length === 0) throw new HttpError(409, 'NOT_DONE', 'No copy of this round is in the outbox yet.');
    if (copies.length > MOST_SHEETS) {
      throw new HttpError(
        409,
        'TOO_MANY',
        `A proof has at most ${MOST_SHEETS} sheets; this round has ${copies.length} copies.`,
      );
    }
    return send(reply, copies, 'pdf', round.kept.name);
  });
}
