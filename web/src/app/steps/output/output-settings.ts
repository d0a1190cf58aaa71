import { Injectable, computed, inject, signal } from '@angular/core';
import { FILM_KINDS } from '../../engine/footage/film-kinds';
import { FILE_KINDS } from '../../jobs/file-kinds';
import { OpenProject } from '../../project/open-project';

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
