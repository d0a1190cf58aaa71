import { Injectable, effect, inject, signal } from '@angular/core';
import { Workbox } from 'workbox-window';
import { JobQueue } from '../jobs/job-queue';
import { Autosave } from '../project/saving/autosave';
import { Notices } from '../project/session/notices';
import { ProjectScope } from '../project/session/scope';
import { diskRoom } from '../storage/disk-room';
import { shellWords } from '../words/shell';

const ABOUT = 'new version';
/** The first picture comes first: what is brought in for times without a network takes both cores. */
const REST_MS = 4000;
/** More than all files of the application take. */
const KEPT_BYTES = 64_000_000;

/** Keeps the application in the browser, so that it works without a network, and offers a newer one when there is one. */
@Injectable({ providedIn: 'root' })
export class UpdateNotifier {
  private readonly notices = inject(Notices);
  private readonly queue = inject(JobQueue);
  private readonly scope = inject(ProjectScope);
  /** Another version has taken over: this page goes on with the files that it has, until it is loaded anew. */
  private readonly isReplaced = signal(false);

  constructor() {
    effect(() => {
      if (this.isReplaced() && this.queue.jobs().length === 0) void this.reload();
    });
  }

  watch(): void {
    if (!('serviceWorker' in navigator)) return;
    // The first that takes over is of this version: it came with this page.
    let isFirst = navigator.serviceWorker.controller === null;
    navigator.serviceWorker.addEventListener('controllerchange', () => {
      if (isFirst) isFirst = false;
      else this.replaced();
    });
    const keeper = new Workbox('service-worker.js');
    keeper.addEventListener('waiting', () =>
      this.notices.show({
        kind: 'info',
        topic: ABOUT,
        text: shellWords.aNewVersionIsReady,
        action: { label: shellWords.updateNow, run: () => this.use(keeper) },
      }),
    );
    // Without it the application works as long as its server runs: that is no reason to disturb anybody.
    setTimeout(() => void this.register(keeper).catch(() => undefined), REST_MS);
  }

  /**
   * Chromium throws away all that it keeps for a page, projects too, where the disk fills up while it stores a service worker:
   * that is begun only where there is room.
   */
  private async register(keeper: Workbox): Promise<void> {
    const isKept = (await navigator.serviceWorker.getRegistration()) !== undefined;
    await diskRoom()?.check(isKept ? 0 : KEPT_BYTES);
    await keeper.register();
  }

  private use(keeper: Workbox): void {
    // The present one first ends what it is being asked for: that may take a while.
    this.notices.info(shellWords.theNewVersionIsTakingOver, ABOUT);
    keeper.messageSkipWaiting();
  }

  /** Every tab is loaded anew, when what it makes is made. */
  private replaced(): void {
    this.isReplaced.set(true);
    if (this.queue.jobs().length > 0)
      this.notices.show({
        kind: 'info',
        topic: ABOUT,
        text: shellWords.aNewVersionOfHazy,
        action: { label: shellWords.reloadNow, run: () => location.reload() },
      });
  }

  private async reload(): Promise<void> {
    const autosave = this.scope.get(Autosave);
    await autosave.save();
    if (!autosave.isAtRisk()) return location.reload();
    this.notices.show({
      kind: 'info',
      topic: ABOUT,
      text: shellWords.aNewVersionOfHazyLens,
      action: { label: shellWords.reloadNow, run: () => location.reload() },
    });
  }
}
