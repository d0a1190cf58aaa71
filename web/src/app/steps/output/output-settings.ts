import { Injectable, computed, inject, signal } from '@angular/core';
import { type MetadataChoice, STILL_FORMATS } from '@hazy-lens/core';
import { CLIP_FORMATS } from '../../engine/footage/clip-formats';
import { offeredName } from '../../model/offered-name';
import { OpenProject } from '../../project/session/open-project';

/** How files are wanted, whatever project they are of. */
@Injectable({ providedIn: 'root' })
export class OutputKinds {
  readonly kind = signal(STILL_FORMATS[0]!);
  readonly quality = signal(92);
  /** Null for what the picture has. */
  readonly bits = signal<8 | 16 | null>(null);
  readonly chroma = signal<'444' | '420'>('420');
  readonly filmKind = signal(CLIP_FORMATS[0]!);
  readonly filmQuality = signal(80);
  /** What an encoder holds to. */
  readonly filmHolds = signal<'quality' | 'bitrate'>('quality');
  /** Millions of bits a second. */
  readonly filmRate = signal(12);
  readonly repeatsUnread = signal(false);
  readonly mapDepth = signal<8 | 16>(16);
  readonly metadata = signal<MetadataChoice>('without-place');
}

/** How files of one project are wanted: a typed name and a size are its own. */
@Injectable()
export class OutputSettings {
  private readonly project = inject(OpenProject);
  private readonly kinds = inject(OutputKinds);
  readonly kind = this.kinds.kind;
  readonly quality = this.kinds.quality;
  readonly chosenBits = this.kinds.bits;
  readonly bits = computed(() => this.chosenBits() ?? ((this.project.source()?.bits ?? 8) > 8 ? 16 : 8));
  readonly chroma = this.kinds.chroma;
  readonly filmKind = this.kinds.filmKind;
  readonly filmQuality = this.kinds.filmQuality;
  readonly filmHolds = this.kinds.filmHolds;
  readonly filmRate = this.kinds.filmRate;
  readonly repeatsUnread = this.kinds.repeatsUnread;
  readonly mapDepth = this.kinds.mapDepth;
  readonly metadata = this.kinds.metadata;
  /** Null for the one that is offered. */
  readonly typedName = signal<string | null>(null);
  readonly fileName = computed(() => {
    const { name, source } = this.project.state();
    return this.typedName() ?? offeredName(name, source?.fileName ?? '');
  });
  /** Null for the full size. */
  readonly longEdge = signal<number | null>(null);
  /** Null for the full size. */
  readonly filmWidth = signal<number | null>(null);
}
