// Lists what ships with Vitrocept and under which licence: docs/licences.md. With --check it only says whether that is
// true.
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT } from './setup.mjs';

const PLACE = join(ROOT, 'docs', 'licences.md');
const lock = JSON.parse(readFileSync(join(ROOT, 'package-lock.json'), 'utf8'));

const rows = Object.entries(lock.packages)
  .filter(([path, { dev, link, optional }]) => path.includes('node_modules/') && !dev && !link && !optional)
  .map(([path, { version, license }]) => {
    const name = path.slice(path.lastIndexOf('node_modules/') + 'node_modules/'.length);
    return { name, version, license: license ?? licenceIn(path) };
  })
  .sort((a, b) => a.name.localeCompare(b.name, 'en') || a.version.localeCompare(b.version, 'en'));

function licenceIn(path) {
  try {
    const { license, licenses } = JSON.parse(readFileSync(join(ROOT, path, 'package.json'), 'utf8'));
    return (
      (typeof license === 'object' ? license.type : license) ?? licenses?.map(({ type }) => type).join(' or ') ?? '?'
    );
  } catch {
    return '?';
  }
}

const counts = new Map();
for (const { license } of rows) counts.set(license, (counts.get(license) ?? 0) + 1);
const unique = rows.filter(({ name, version }, i) => rows[i - 1]?.name !== name || rows[i - 1].version !== version);
const text = `# Licences of what ships

Written by \`npm run licences\`; \`npm test\` checks that it is true. Packages that only build or test are not listed.

${[...counts]
  .sort((a, b) => b[1] - a[1])
  .map(([license, count]) => `- ${license}: ${count}`)
  .join('\n')}

Beside packages: the face model and its weights come with \`@vladmandic/human\` (MIT); the fonts IBM Plex Sans and Mono
with \`@fontsource\` (SIL Open Font License 1.1); LibRaw as WebAssembly with \`libraw-wasm\` (LibRaw itself: LGPL 2.1 or
CDDL 1.0); LittleCMS with \`lcms-wasm\` (MIT).

| package | version | licence |
| --- | --- | --- |
${unique.map(({ name, version, license }) => `| ${name} | ${version} | ${license} |`).join('\n')}
`;

if (process.argv.includes('--check')) {
  if (readFileSync(PLACE, 'utf8') !== text) {
    console.error('docs/licences.md is not what ships: npm run licences');
    process.exitCode = 1;
  }
} else {
  writeFileSync(PLACE, text);
}
