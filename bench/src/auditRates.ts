import { FAKES } from '@vitrocept/core';
import { nodeKernels } from '@vitrocept/files';
import { makeCase, RECIPES } from './cases';
import { detection, falseAlarms, judgeForgeries, type Judged, type Knowledge } from './forgeries';
import { fetchPictures } from './pictures';

const WAYS: readonly Knowledge[] = ['told', 'estimated', 'wrong by a tenth'];
const percent = (share: number) => `${(100 * share).toFixed(1)} %`.padStart(8);

/** Cause, and the JPEGs apart. */
const familyOf = (name: string) => (/ q\d/.test(name) ? 'JPEG' : name.split(' ')[0]);

/** How often unproven detail is found where a forger put it, and claimed where nobody did, by how the blur is known. */
export async function auditRates(only: RegExp | null): Promise<void> {
  fetchPictures();
  const kernels = await nodeKernels();
  for (const way of WAYS) {
    const judged: Judged[] = [];
    for (const [i, recipe] of RECIPES.entries()) {
      if (recipe.blur === 'none' || (only && !only.test(recipe.name))) continue;
      const one = await judgeForgeries(await makeCase(recipe, i + 1), way, way === 'told' ? 2 : 1, i + 51, kernels);
      if (one) judged.push(one);
    }
    const [check, damaged] = [falseAlarms(judged, 1), falseAlarms(judged, 2)];
    console.log(`\nBlur ${way}: ${judged.length} pictures`);
    console.log(`honest patches: check or worse ${percent(check.mean)} (worst picture ${percent(check.worst)})`);
    console.log(`                damaged        ${percent(damaged.mean)} (worst picture ${percent(damaged.worst)})`);
    for (const family of new Set(judged.map(({ name }) => familyOf(name)))) {
      const own = judged.filter(({ name }) => familyOf(name) === family);
      const rates = FAKES.map((fake) => detection(own, fake));
      const counted = rates.reduce((sum, rate) => sum + rate.counted, 0);
      const found = rates.reduce((sum, rate) => sum + rate.counted * rate.check, 0) / counted;
      const [worse, sure] = [falseAlarms(own, 1), falseAlarms(own, 2)];
      console.log(
        `  ${family.padEnd(10)} honest: check or worse ${percent(worse.mean)}, damaged ${percent(sure.mean)}; fakes found ${percent(found)} of ${counted}`,
      );
    }
    for (const fake of FAKES) {
      const { counted, check: found, damaged: sure, weak } = detection(judged, fake);
      console.log(
        `${fake.padEnd(16)} ${String(counted).padStart(4)} counted: check ${percent(found)}, damaged ${percent(sure)}; weaker ones ${percent(weak)}`,
      );
    }
  }
}
