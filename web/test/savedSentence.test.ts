import { expect, it, vi } from 'vitest';

vi.stubGlobal('window', new EventTarget());
const { savedSentence } = await import('../src/workspace/NothingHere');

it('a page that failed says that all is saved only where that is known', () => {
  expect(savedSentence([])).toMatch(/All of your work is saved/);
  const sentence = savedSentence([{ name: 'one.jpg' }, { name: 'two.jpg' }]);
  expect(sentence).toMatch(/one\.jpg, two\.jpg are not saved/);
  expect(sentence).not.toMatch(/is saved/);
});
