import { DestroyRef, Injectable, computed, effect, inject, signal } from '@angular/core';
import { soundSpeed } from '@hazy-lens/core';
import type { PlayedSound } from '../engine/footage/played-sound';
import { logCause } from '../model/causes';
import { Footage } from '../project/footage/footage';
import { OpenProject } from '../project/session/open-project';
import { Projects } from '../storage/projects';
import { remember, remembered } from '../storage/remembered';

const VOLUME_KEY = 'hazy-lens-volume';
const MUTED_KEY = 'hazy-lens-muted';

/** The volume that was set last, from 0 to 1. */
function lastVolume(): number {
  const volume = Number(remembered(VOLUME_KEY) ?? 1);
  return volume >= 0 && volume <= 1 ? volume : 1;
}

/** The sound of the clip that is open, while it plays at a speed that sound goes along with. */
@Injectable()
export class ClipSound {
  private readonly footage = inject(Footage);
  private readonly project = inject(OpenProject);
  private readonly projects = inject(Projects);
  readonly isThere = computed(() => !!this.footage.facts()?.sound);
  private readonly speed = computed(() => soundSpeed(this.project.keyed().pace));
  /** False where sound does not go along with the pace: nothing is heard then. */
  readonly fitsPace = computed(() => this.speed() !== null);
  private readonly set = signal(lastVolume());
  private readonly silenced = signal(remembered(MUTED_KEY) === 'yes');
  /** From 0 to 1. */
  readonly volume = this.set.asReadonly();
  readonly isMuted = this.silenced.asReadonly();
  /** What the sound is multiplied by: what is half as loud to the ear has a quarter of the strength. */
  private readonly loudness = computed(() => (this.isMuted() ? 0 : this.volume() ** 2));
  private opened: Promise<PlayedSound | null> | null = null;
  private sound: PlayedSound | null = null;
  /** Counts what was asked for: only the newest plays. */
  private turn = 0;

  constructor() {
    effect(() => {
      const loudness = this.loudness();
      this.sound?.setLoudness(loudness);
    });
    inject(DestroyRef).onDestroy(() => void this.opened?.then((sound) => sound?.close()));
  }

  setVolume(volume: number): void {
    this.set.set(volume);
    remember(VOLUME_KEY, `${volume}`);
    this.mute(false);
  }

  mute(on: boolean): void {
    this.silenced.set(on);
    remember(MUTED_KEY, on ? 'yes' : 'no');
  }

  /**
   * Plays from a time of the source to the end of what is shown of it.
   * @returns a clock: the seconds that were heard, null when it stands still; or null where nothing is to be heard.
   */
  async start(time: number): Promise<(() => number | null) | null> {
    this.stop();
    const { turn } = this;
    const speed = this.speed();
    if (!this.isThere() || speed === null) return null;
    this.opened ??= this.open();
    const sound = await this.opened;
    if (!sound || turn !== this.turn) return null;
    const plays = await sound.start(time, this.footage.timeline().to, speed);
    if (turn !== this.turn) this.sound?.stop();
    return plays && turn === this.turn ? () => sound.heard : null;
  }

  stop(): void {
    this.turn++;
    this.sound?.stop();
  }

  private async open(): Promise<PlayedSound | null> {
    const source = this.project.source();
    if (!source) return null;
    try {
      const file = await this.projects.picture(source);
      if (!file) return null;
      // Who never plays a clip with sound needs none of this.
      const { PlayedSound } = await import('../engine/footage/played-sound');
      this.sound = await PlayedSound.open(file);
      this.sound?.setLoudness(this.loudness());
      return this.sound;
    } catch (error) {
      logCause(error);
      return null;
    }
  }
}
