import { Injectable, inject } from '@angular/core';
import { Workbox } from 'workbox-window';
import { Notices } from '../project/notices';

const ABOUT = 'new version';
/** The first picture comes first: what is brought in for times without a network takes both cores. */
const REST_MS = 4000;

/** Keeps the application in the browser, so that it works without a network, and offers a newer one when there is one. */
@Injectable({ providedIn: 'root' })
export class NewVersion {
  private readonly notices = inject(Notices);

  watch(): void {
    if (!('serviceWorker' in navigator)) return;
    const keeper = new Workbox('service-worker.js');
    keeper.addEventListener('waiting', () =>
      this.notices.show({
        kind: 'info',
        about: ABOUT,
        text: 'A new version of Hazy Lens is here. It takes over when all its tabs are closed, or now; your project is saved.',
        action: { label: 'Use it now', run: () => this.use(keeper) },
      }),
    );
    // Without it the application works as long as its server runs: that is no reason to disturb anybody.
    setTimeout(() => void keeper.register().catch(() => undefined), REST_MS);
  }

  private use(keeper: Workbox): void {
    // The present one first ends what it is being asked for: that may take a while.
    this.notices.info('The new version is taking over …', ABOUT);
    keeper.addEventListener('controlling', () => location.reload());
    keeper.messageSkipWaiting();
  }
}
