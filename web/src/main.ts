import { bootstrapApplication } from '@angular/platform-browser';
import { appConfig } from './app/app.config';
import { type BuiltFiles, setBuiltFiles } from './app/engine/built-files';
import { reasonOf } from './app/model/causes';
import { Shell } from './app/shell/shell';

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

if (typeof SharedArrayBuffer === 'undefined' || typeof WebAssembly === 'undefined')
  tell(
    'Hazy Lens needs memory that threads share, and this browser doesn’t provide it: it may be too old, or the page did not come from the Hazy Lens server. Open the address that the server printed in a current browser. Your projects are safe.',
  );
else {
  setBuiltFiles(
    JSON.parse(document.querySelector<HTMLMetaElement>('meta[name="built-files"]')!.content) as BuiltFiles,
  );
  bootstrapApplication(Shell, appConfig).catch((error: unknown) =>
    tell(`${reasonOf(error)}. Reload the page; your projects are safe.`),
  );
}
