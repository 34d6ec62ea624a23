// Builds styles, scripts and fonts into crates/app/assets, which the binary embeds.
import { execFileSync } from 'node:child_process';
import { cpSync, mkdirSync, rmSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import * as esbuild from 'esbuild';

const here = dirname(fileURLToPath(import.meta.url));
const out = join(here, '../crates/app/assets');
rmSync(out, { recursive: true, force: true });
mkdirSync(join(out, 'fonts'), { recursive: true });

const fonts = {
  '@fontsource-variable/hanken-grotesk/files': [
    'hanken-grotesk-latin-wght-normal.woff2',
    'hanken-grotesk-latin-ext-wght-normal.woff2',
  ],
  '@fontsource/ibm-plex-mono/files': [
    'ibm-plex-mono-latin-400-normal.woff2',
    'ibm-plex-mono-latin-500-normal.woff2',
    'ibm-plex-mono-latin-ext-400-normal.woff2',
  ],
};
for (const [folder, files] of Object.entries(fonts)) {
  for (const file of files) {
    cpSync(join(here, 'node_modules', folder, file), join(out, 'fonts', file));
  }
  const name = folder.split('/')[1];
  cpSync(join(here, 'node_modules', dirname(folder), 'LICENSE'), join(out, 'fonts', `${name}-LICENSE.txt`));
}

execFileSync(
  process.execPath,
  [
    join(here, 'node_modules/@tailwindcss/cli/dist/index.mjs'),
    '--input',
    join(here, 'styles/app.css'),
    '--output',
    join(out, 'app.css'),
    '--minify',
  ],
  { cwd: here, stdio: ['ignore', 'ignore', 'inherit'] },
);

await esbuild.build({
  entryPoints: {
    pieces: join(here, 'src/pieces.js'),
    piece: join(here, 'src/piece/main.js'),
    form: join(here, 'src/piece/form.js'),
    typefaces: join(here, 'src/typefaces.js'),
    shapes: join(here, 'src/shapes.js'),
    draw: join(here, 'src/draw/main.js'),
    filaments: join(here, 'src/filaments.js'),
    printers: join(here, 'src/printers.js'),
    meshes: join(here, 'src/meshes.js'),
  },
  bundle: true,
  splitting: true,
  format: 'esm',
  target: 'es2022',
  minify: true,
  legalComments: 'none',
  outdir: out,
  chunkNames: '[name]-[hash]',
  logLevel: 'warning',
});
