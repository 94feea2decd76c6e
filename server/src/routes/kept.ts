import type { FastifyInstance } from 'fastify';
import { mixed, object, type InferType } from 'yup';
import { checkKept, keepPrescription, keptName, keptWays, type KeptPrescription } from '@vitrocept/core';
import { notFound } from '../httpError';
import type { Services } from '../services';
import { idParams, type ById } from './schemas';

const fromFrame = object({ name: keptName(), ways: keptWays() }).noUnknown().required();
const newName = object({ name: keptName() }).noUnknown().required();
/** Checked by core, which says what is wrong with it. */
const fromFile = mixed<object>().required();

const ONE = { schema: { params: idParams } };

/** Prescriptions under a name: kept from a frame or from a file, renamed, removed and back. */
export function keptRoutes(app: FastifyInstance, { stores }: Services): void {
  const known = ({ id }: ById['Params']) => {
    const found = stores.kept.get(id);
    if (!found) throw notFound('kept prescription');
    return found;
  };

  app.get('/api/kept', () => stores.kept.all());

  app.post<{ Body: InferType<typeof fromFile> }>('/api/kept', { schema: { body: fromFile } }, (request, reply) =>
    reply.status(201).send(stores.kept.add(withFreeName(checkKept(request.body)))),
  );

  app.post<ById & { Body: InferType<typeof fromFrame> }>(
    '/api/frames/:id/keep',
    { schema: { params: idParams, body: fromFrame } },
    (request, reply) => {
      const frame = stores.frames.get(request.params.id);
      if (!frame) throw notFound('frame');
      const { name, ways } = request.body;
      const { prescription } = stores.prescriptions.get(frame.id);
      return reply.status(201).send(stores.kept.add(withFreeName(keepPrescription(name, ways, frame, prescription))));
    },
  );

  app.patch<ById & { Body: InferType<typeof newName> }>(
    '/api/kept/:id',
    { schema: { params: idParams, body: newName } },
    (request) => {
      const { id } = known(request.params);
      stores.kept.rename(id, request.body.name);
      return stores.kept.get(id);
    },
  );

  app.post<ById>('/api/kept/:id/duplicate', ONE, (request, reply) =>
    reply.status(201).send(stores.kept.add(withFreeName(known(request.params).kept))),
  );

  app.delete<ById>('/api/kept/:id', ONE, (request, reply) => {
    stores.kept.remove(known(request.params).id);
    return reply.status(204).send();
  });

  app.post<ById>('/api/kept/:id/restore', ONE, (request) => {
    const { id } = known(request.params);
    stores.kept.restore(id);
    return stores.kept.get(id);
  });

  /** Two of one name could not be told apart: name, name 2, … */
  function withFreeName(kept: KeptPrescription): KeptPrescription {
    const names = new Set(stores.kept.all().map((other) => other.kept.name));
    for (let number = 1; ; number++) {
      const name = number === 1 ? kept.name : `${kept.name} ${number}`;
      if (!names.has(name)) return { ...kept, name };
    }
  }
}
