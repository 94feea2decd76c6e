import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Tally, type Outcome } from './outcome';
import { withPage } from './page';
import { smallPng } from './pictures';
import { endServer, newShoot, sendFile, startServer } from './server';

/** However many frames a shoot has, the page holds no more cards or rows than this. */
const MOST_SHOWN = 150;

/** As text, since it runs in the page: one step down, and whether that is the end. */
const SCROLLED = `(() => {
  const room = document.scrollingElement;
  room.scrollTo({ top: room.scrollTop + 600, behavior: 'instant' });
  const isEnd = () => room.scrollTop + room.clientHeight >= room.scrollHeight - 2;
  return new Promise((resolve) => requestAnimationFrame(() => resolve(isEnd())));
})()`;

/** So many frames in one shoot: the sheet answers, holds only what is seen, and can be gone through to its end. */
export async function manyFrames(count: number): Promise<Outcome> {
  const data = await mkdtemp(join(tmpdir(), 'vitrocept-many-'));
  const server = await startServer(data);
  const { url } = server;
  const tally = new Tally();
  try {
    const shoot = await newShoot(url, 'many');
    for (let i = 0; i < count; i++) {
      const answer = await sendFile(`${url}/api/shoots/${shoot}/frames`, `frame-${i}.png`, await smallPng(i, 48, 32));
      if (!answer.ok) tally.add(`frame ${i}: ${answer.status} ${await answer.text()}`);
    }
    const sorted = async () => {
      const { frames } = (await (await fetch(`${url}/api/shoots/${shoot}`)).json()) as { frames: { state: string }[] };
      return frames.filter(({ state }) => state !== 'waiting').length;
    };
    while ((await sorted()) < count) await new Promise((resolve) => setTimeout(resolve, 500));
    const asked: number[] = [];
    for (let i = 0; i < 20; i++) {
      const from = performance.now();
      await sorted();
      asked.push(performance.now() - from);
    }
    asked.sort((a, b) => a - b);
    console.log(
      `  the shoot of ${count} answers in ${asked[10].toFixed(0)} ms (median), ${asked[19].toFixed(0)} ms at worst`,
    );
    await withPage(`${url}/shoots/${shoot}`, async (page) => {
      await page.locator('.frame-card').first().waitFor();
      const shown = async (what: string) => {
        const cards = await page.locator('.frame-card').count();
        tally.add(cards > 0 && cards <= MOST_SHOWN ? null : `${what}: ${cards} cards in the page`);
      };
      await shown('at the beginning');
      const from = performance.now();
      const seen = new Set<string>();
      let steps = 1;
      for (; !(await page.evaluate<boolean>(SCROLLED)) && steps < count; steps++) {
        for (const name of await page.locator('.frame-card').allTextContents()) seen.add(name);
      }
      const each = (performance.now() - from) / Math.max(1, steps);
      console.log(`  gone through in ${steps} steps of 600 px, ${each.toFixed(0)} ms each`);
      await shown('at the end');
      // Nearly every card stood in the page at some step: the sheet went on to its end.
      tally.add(seen.size > 0.9 * count ? null : `only ${seen.size} of ${count} frames were seen on the way`);
    });
  } finally {
    await endServer(server);
    await rm(data, { recursive: true, force: true });
  }
  return tally.outcome;
}
