// npm run soak -- files [N [ms]] | kills [N] | faults [N [fault]]: endurance; prints what it counted, and fails where something did not hold.
import { buildServer, buildWeb, bundleForNode, install, root } from './prepare.mjs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';

const [name = '', count = '', more] = process.argv.slice(2);
const rounds = { files: 10000, kills: 1000, faults: 200 };
if (!(name in rounds) || (count !== '' && !/^[1-9]\d*$/.test(count))) {
  console.error(
    'usage: npm run soak -- files|kills|faults [rounds [milliseconds a file may take | the one fault]]',
  );
  process.exit(2);
}
install();
buildServer();
if (name !== 'files') buildWeb();
bundleForNode(`soak-${name}=web/soak/${name}.ts`, 'soak-decode=web/soak/decode.ts');
const { soak } = await import(pathToFileURL(join(root, `server/dist/soak-${name}.mjs`)));
const failures = await soak(
  Number(count || rounds[name]),
  name === 'files' ? Number(more) || undefined : more,
);
process.exit(failures === 0 ? 0 : 1);
