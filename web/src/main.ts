import './app/engine/memory-stand-in';
import * as z from 'zod';
import { reasonOf } from './app/model/causes';

// The page's rules forbid code made at run time, and schemas try it as they are made.
z.config({ jitless: true });

/** Says in place of the application why there is none. */
function tell(why: string): void {
  const says = document.createElement('main');
  says.className = 'no-start';
  const title = document.createElement('h1');
  title.textContent = 'Hazy Lens can’t start here';
  const text = document.createElement('p');
  text.textContent = why;
  says.append(title, text);
  document.body.replaceChildren(says);
}

if (typeof WebAssembly === 'undefined')
  tell(
    'Hazy Lens needs WebAssembly, and this browser doesn’t provide it: it may be too old, or it is switched off. Open this page in a current Chromium or Firefox. Your projects are safe.',
  );
else
  // What needs it is not even read before it is there.
  import('./start')
    .then(({ start }) => start())
    .catch((error: unknown) => tell(`${reasonOf(error)}. Reload the page; your projects are safe.`));
