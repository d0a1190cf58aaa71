import { bootstrapApplication } from '@angular/platform-browser';
import { appConfig } from './app/app.config';
import { type BuiltFiles, setBuiltFiles } from './app/engine/built-files';
import { Shell } from './app/shell/shell';

/** Starts the application in the page. */
export async function start(): Promise<void> {
  setBuiltFiles(
    JSON.parse(document.querySelector<HTMLMetaElement>('meta[name="built-files"]')!.content) as BuiltFiles,
  );
  await bootstrapApplication(Shell, appConfig);
}
