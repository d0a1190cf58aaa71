import { Injectable, computed, inject, signal } from '@angular/core';
import type { PictureType } from '../../engine/codecs/messages';
import { FILM_KINDS } from '../../engine/footage/film-kinds';
import { OpenProject } from '../../project/open-project';

export interface FileKind {
  type: PictureType;
  label: string;
  extension: string;
  /** Something is lost, more or less by the quality. */
  isLossy: boolean;
  /** It can have 16 bits a channel. */
  isDeep: boolean;
}

export const FILE_KINDS: readonly FileKind[] = [
  { type: 'image/jpeg', label: 'JPEG', extension: '.jpg', isLossy: true, isDeep: false },
  { type: 'image/png', label: 'PNG', extension: '.png', isLossy: false, isDeep: true },
  { type: 'image/tiff', label: 'TIFF', extension: '.tif', isLossy: false, isDeep: true },
  { type: 'image/webp', label: 'WebP', extension: '.webp', isLossy: true, isDeep: false },
  { type: 'image/avif', label: 'AVIF', extension: '.avif', isLossy: true, isDeep: false },
];

/** How files are wanted: kept while one works elsewhere. A typed name and a size belong to their project. */
@Injectable({ providedIn: 'root' })
export class OutputSettings {
  private readonly project = inject(OpenProject);
  readonly kind = signal(FILE_KINDS[0]!);
  readonly quality = signal(92);
  readonly bits = signal<8 | 16>(16);
  readonly filmKind = signal(FILM_KINDS[0]!);
  readonly filmQuality = signal(80);
  readonly mapDepth = signal<8 | 16>(16);
  private readonly names = signal<ReadonlyMap<string | null, string>>(new Map());
  private readonly edges = signal<ReadonlyMap<string | null, number | null>>(new Map());
  private readonly widths = signal<ReadonlyMap<string | null, number>>(new Map());
  private readonly projectId = computed(() => this.project.state().projectId);
  readonly fileName = computed(() => this.names().get(this.projectId()) ?? this.project.state().name);
  /** Null for the full size. */
  readonly longEdge = computed(() => this.edges().get(this.projectId()) ?? null);

  /** Null for the full size. */
  readonly filmWidth = computed(() => this.widths().get(this.projectId()) ?? null);

  setFilmWidth(width: number): void {
    this.widths.update((all) => new Map(all).set(this.projectId(), width));
  }

  setFileName(name: string): void {
    this.names.update((all) => new Map(all).set(this.projectId(), name));
  }

  setLongEdge(edge: number | null): void {
    this.edges.update((all) => new Map(all).set(this.projectId(), edge));
  }
}
