import type { FastifyInstance } from 'fastify';
import type { Schema } from 'yup';

/**
 * Routes name a Yup schema for each part of a request; it is held against them before the route is called. Bodies and
 * parameters are taken strictly: nothing is converted, unknown keys are refused. A query is text, so its numbers are
 * read.
 */
export function validateRequests(app: FastifyInstance): void {
  app.setValidatorCompiler<Schema>(({ schema, httpPart }) => (data: unknown) => {
    try {
      return { value: schema.validateSync(data, httpPart === 'querystring' ? {} : { strict: true }) as unknown };
    } catch (error) {
      return { error: error as Error };
    }
  });
}
