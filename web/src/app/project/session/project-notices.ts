import { DestroyRef, Injectable, inject } from '@angular/core';
import { type Notice, Notices } from './notices';

/** What a person should know of the open project: it goes when the project closes. */
@Injectable()
export class ProjectNotices {
  private readonly notices = inject(Notices);
  private readonly own = new Set<string>();

  constructor() {
    inject(DestroyRef).onDestroy(() => this.own.forEach((about) => this.notices.clear(about)));
  }

  show(notice: Notice): void {
    const about = notice.topic ?? notice.text;
    this.own.add(about);
    this.notices.show({ ...notice, topic: about });
  }

  error(text: string, about?: string): void {
    this.show({ kind: 'error', text, ...(about !== undefined && { topic: about }) });
  }

  info(text: string, about?: string): void {
    this.show({ kind: 'info', text, ...(about !== undefined && { topic: about }) });
  }

  clear(about: string): void {
    this.notices.clear(about);
  }
}
