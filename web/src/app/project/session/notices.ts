import { Injectable, signal } from '@angular/core';
import { messageLine } from '@hazy-lens/core';

export interface Notice {
  kind: 'error' | 'info';
  text: string;
  action?: { label: string; run: () => void };
  /** What it is about: a newer one about the same takes its place. */
  topic?: string;
  /** Hears when it no longer stands, whatever took it away. */
  gone?: () => void;
}

const aboutOf = ({ topic, text }: Notice): string => topic ?? text;

/** Most that stand at once; with more, the oldest that offers nothing goes. */
const MOST = 4;

/** What a person should know just now, the newest last: each stands until it is put away or no longer true. */
@Injectable({ providedIn: 'root' })
export class Notices {
  private readonly list = signal<readonly Notice[]>([]);
  readonly all = this.list.asReadonly();

  /** Shows a notice; what is in it of files and of others is bounded, see the core's `messageLine`. */
  show(told: Notice): void {
    const notice = { ...told, text: messageLine(told.text) };
    const about = notice.topic ?? notice.text;
    const others = this.list().filter((one) => aboutOf(one) !== about);
    const next = [...others, notice];
    const spare = next.findIndex((one, i) => !one.action && i < next.length - 1);
    this.put(next.length > MOST && spare >= 0 ? next.toSpliced(spare, 1) : next);
  }

  error(text: string, about?: string): void {
    this.show(about === undefined ? { kind: 'error', text } : { kind: 'error', text, topic: about });
  }

  info(text: string, about?: string): void {
    this.show(about === undefined ? { kind: 'info', text } : { kind: 'info', text, topic: about });
  }

  dismiss(notice: Notice): void {
    this.put(this.list().filter((one) => one !== notice));
  }

  /** Takes back what is said about something. */
  clear(about: string): void {
    this.put(this.list().filter((one) => aboutOf(one) !== about));
  }

  private put(next: readonly Notice[]): void {
    const before = this.list();
    this.list.set(next);
    for (const one of before) if (!next.includes(one)) one.gone?.();
  }
}
