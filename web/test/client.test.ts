import { afterEach, describe, expect, it, vi } from 'vitest';
import { api, ApiError, send } from '../src/api/client';

const answering = (status: number, body: string, type = 'application/json') =>
  vi.stubGlobal(
    'fetch',
    vi.fn(async () => new Response(body, { status, headers: { 'content-type': type } })),
  );

const refusal = (promise: Promise<unknown>) =>
  promise.then(
    () => null,
    (error: ApiError) => error,
  );

afterEach(() => vi.unstubAllGlobals());

describe('the server’s answers', () => {
  it('come as they are', async () => {
    answering(200, '{"revision":3}');
    expect(await api('/api/x')).toEqual({ revision: 3 });
  });

  it('a refusal is its sentence, with its code and all that came along', async () => {
    answering(409, '{"code":"STALE","error":"Changed elsewhere.","saved":{"revision":7}}');
    const error = await refusal(send('PUT', '/api/x', { a: 1 }));
    expect(error).toBeInstanceOf(ApiError);
    expect(error).toMatchObject({ status: 409, code: 'STALE', message: 'Changed elsewhere.' });
    expect(error!.body.saved).toEqual({ revision: 7 });
  });

  it('an answer that is no JSON still has a sentence', async () => {
    answering(502, '<html>bad gateway</html>', 'text/html');
    expect(await refusal(api('/api/x'))).toMatchObject({
      status: 502,
      code: '502',
      message: 'The server answered 502.',
    });
  });

  it('no answer at all says that the server may not be running', async () => {
    vi.stubGlobal('fetch', async () => {
      throw new TypeError('failed to fetch');
    });
    expect(await refusal(api('/api/x'))).toMatchObject({ status: 0, code: 'NO_SERVER' });
    expect((await refusal(api('/api/x')))!.message).toMatch(/Is it still running\?/);
  });

  it('what is sent is JSON, and may outlive the page', async () => {
    answering(200, '{}');
    await send('POST', '/api/x', { name: 'reed' }, true);
    expect(fetch).toHaveBeenCalledWith('/api/x', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: '{"name":"reed"}',
      keepalive: true,
    });
  });
});
