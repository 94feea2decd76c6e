/// <reference lib="dom" />
import { loadavg } from 'node:os';
import type { Page } from '@playwright/test';
import { bringIn, withFreshPage } from './freshPage';
import { softFrame } from './softFrame';

const MOVES = 40;
const RESTED_MS = 8000;
const SLIDERS = ['Exposure', 'Lift shadows', 'Hold highlights'];

/** In the real page on a frame of 24 megapixels: from a slider's move to the picture drawn anew, at fitted size. */
export async function sliderTimes(): Promise<void> {
  await withFreshPage(async (page) => {
    await bringIn(page, 'large.jpg', await softFrame());
    await page.getByRole('link', { name: /^Corrections/ }).click();
    await page.locator('.surface canvas').first().waitFor();
    await page.getByText('loading the picture').waitFor({ state: 'detached', timeout: 120_000 });
    await readToTheEnd(page);
    // What the compiler wraps named functions in stands in the page too.
    await page.evaluate('globalThis.__name = (own) => own');
    console.log(`load ${loadavg()[0].toFixed(2)}`);
    for (const name of SLIDERS) {
      const times = (await movesOf(page, name)).sort((a, b) => a - b);
      const at = (share: number) => times[Math.floor(share * (times.length - 1))].toFixed(0);
      console.log(`${name.padEnd(18)} median ${at(0.5)} ms, 95 % ${at(0.95)} ms (wanted 50)`);
    }
  });
}

/** The frame is read while it is looked at; after that nothing else goes on. */
async function readToTheEnd(page: Page): Promise<void> {
  const id = /frames\/([^/]+)/.exec(page.url())![1];
  for (;;) {
    const state = await page.evaluate(async (id) => {
      const answer = await fetch(`/api/frames/${id}`);
      return ((await answer.json()) as { firstReading: { state: string } }).firstReading.state;
    }, id);
    if (state === 'done') break;
    await page.waitForTimeout(500);
  }
  await page.waitForTimeout(RESTED_MS);
}

/** ms of every move until the canvas shows something else. */
async function movesOf(page: Page, name: string): Promise<number[]> {
  const slider = page.getByRole('slider', { name: new RegExp(`^${name}`) });
  await slider.waitFor();
  return slider.evaluate(async (element, moves) => {
    const input = element as HTMLInputElement;
    const canvas = document.querySelector<HTMLCanvasElement>('.surface canvas')!;
    const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')!.set!;
    const [low, high] = [Number(input.min), Number(input.max)];
    const step = Number(input.step) || 1;
    const times: number[] = [];
    const frame = () => new Promise((resolve) => requestAnimationFrame(resolve));
    // A few px across the picture: any change of light shows in one of them.
    const seen = () => {
      const { width, height } = canvas;
      return canvas
        .getContext('2d')!
        .getImageData(0, height >> 1, width, 1)
        .data.join();
    };
    for (let k = 0; k < moves; k++) {
      const before = seen();
      const value = low + (high - low) * (0.55 + 0.3 * ((k * 0.618) % 1));
      const began = performance.now();
      set.call(input, String(Math.round(value / step) * step));
      input.dispatchEvent(new Event('input', { bubbles: true }));
      for (let waited = 0; seen() === before && waited < 300; waited++) await frame();
      times.push(performance.now() - began);
      for (let rest = 0; rest < 12; rest++) await frame();
    }
    return times.slice(2);
  }, MOVES);
}
