// npm run check: types of everything, lint and format.
import { startChecks } from './checks.mjs';
import { install } from './prepare.mjs';

install();
const results = await Promise.all(startChecks());
process.exit(results.some(({ failed }) => failed > 0) ? 1 : 0);
