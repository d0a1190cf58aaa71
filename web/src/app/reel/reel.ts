import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  type ElementRef,
  afterNextRender,
  computed,
  inject,
  viewChild,
} from '@angular/core';
import { MatIconButton } from '@angular/material/button';
import { MatButtonToggle, MatButtonToggleGroup } from '@angular/material/button-toggle';
import { MatIcon } from '@angular/material/icon';
import { MatSlider, MatSliderThumb } from '@angular/material/slider';
import { MatTooltip } from '@angular/material/tooltip';
import type { Ease } from '@hazy-lens/core';
import { Footage } from '../project/footage/footage';
import { Keyframes } from '../project/footage/keyframes';
import { Drag, type DragStart } from '../ui/drag';
import { arrowOf, stepMultiplier } from '../ui/arrow-keys';
import { ClipSound } from '../workspace/clip-sound';
import { Player } from '../workspace/player';
import { Transport } from '../workspace/transport';
import { formatTimecode, typedFrame } from './timecode';
import { FilmStrip } from './film-strip';
import { KeyLanes } from './key-lanes';
import { Lanes } from './lanes';
import { ReelView } from './reel-view';
import { TrimBuffers } from './trim-buffers';
import { counted } from '../model/counted';
import { reelWords } from '../words/reel';

const ZOOM_STEP = 0.7;

/** The clip as a track: small pictures, the playhead, in and out as buffers at its ends, a lane for what has keys. */
@Component({
  selector: 'hl-reel',
  imports: [
    Drag,
    FilmStrip,
    KeyLanes,
    MatButtonToggle,
    MatButtonToggleGroup,
    MatIcon,
    MatIconButton,
    MatSlider,
    MatSliderThumb,
    MatTooltip,
    TrimBuffers,
  ],
  templateUrl: './reel.html',
  styleUrl: './reel.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Reel {
  protected readonly words = reelWords;
  protected readonly footage = inject(Footage);
  protected readonly player = inject(Player);
  protected readonly sound = inject(ClipSound);
  private readonly transport = inject(Transport);
  protected readonly view = inject(ReelView);
  protected readonly keyframes = inject(Keyframes);
  protected readonly lanes = inject(Lanes);
  private readonly track = viewChild.required<ElementRef<HTMLElement>>('track');
  protected readonly eases: readonly Ease[] = ['smooth', 'soft', 'linear', 'hold'];
  protected readonly time = computed(() => formatTimecode(this.footage.at()));
  protected readonly frameOf = computed(() =>
    reelWords.frameOf(this.footage.frame() + 1, this.footage.times().starts.length),
  );
  protected readonly reading = computed(() => `${this.time()} · ${this.frameOf()}`);
  /** How fast the shuttle goes; nothing at the pace itself. */
  protected readonly speed = computed(() => {
    const speed = this.player.speed();
    return speed === 1 ? '' : `${speed < 0 ? reelWords.back : ''}${Math.abs(speed)}×, `;
  });
  protected readonly length = computed(() => {
    const { frames, fps } = this.footage.timeline();
    return reelWords.outputAtFps(
      formatTimecode(frames / fps),
      counted(frames, 'frame'),
      Number(fps.toFixed(2)),
    );
  });

  constructor() {
    const destroyed = inject(DestroyRef);
    afterNextRender(() => destroyed.onDestroy(this.view.attach(this.track().nativeElement)));
  }

  /** A hand on the track takes the playhead along. */
  protected readonly scrub: DragStart = (event) => {
    if (event.button !== 0) return null;
    this.player.pause();
    const before = this.footage.at();
    void this.footage.seekTime(this.view.timeAt(event));
    return {
      move: (now) => void this.footage.seekTime(this.view.timeAt(now)),
      cancel: () => void this.footage.seekTime(before),
    };
  };

  protected step(frames: number): void {
    this.goTo(this.footage.frame() + frames);
  }

  /** Goes to the time or the frame that was typed; what is none of both stays as it was. */
  protected typed(field: HTMLInputElement, event: KeyboardEvent): void {
    event.stopPropagation();
    if (event.key === 'Enter') {
      const frame = typedFrame(field.value, this.footage.times(), this.footage.rate());
      if (frame !== null) this.goTo(frame);
    } else if (event.key !== 'Escape') return;
    field.value = this.time();
    field.blur();
  }

  private goTo(frame: number): void {
    this.transport.goTo(frame);
    this.view.reveal(this.footage.at());
  }

  protected key(event: KeyboardEvent): void {
    const arrow = arrowOf(event);
    if (arrow?.[0]) this.step(arrow[0] * Math.max(1, stepMultiplier(event)));
    else if (event.key === 'Home') this.goTo(0);
    else if (event.key === 'End') this.goTo(this.footage.times().starts.length - 1);
    else if (event.key === '+' || event.key === '=') this.zoom(ZOOM_STEP);
    else if (event.key === '-') this.zoom(1 / ZOOM_STEP);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  private zoom(factor: number): void {
    this.view.zoom(factor, this.view.x(this.footage.at()));
  }

  protected wheel(event: WheelEvent): void {
    event.preventDefault();
    if (event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY))
      this.view.pan(event.deltaX || event.deltaY);
    else this.view.zoom(Math.exp(event.deltaY * 0.0016), this.view.xOf(event));
  }
}
