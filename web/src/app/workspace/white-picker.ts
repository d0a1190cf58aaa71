import { Injectable, inject, signal } from '@angular/core';
import { type Primaries, whiteBalanceFrom } from '@hazy-lens/core';
import { OpenProject } from '../project/session/open-project';
import { ProjectNotices } from '../project/session/project-notices';
import { workspaceWords } from '../words/workspace';

/** Sets warmth and tint by a place of the picture that should be grey. */
@Injectable()
export class WhitePicker {
  private readonly project = inject(OpenProject);
  private readonly notices = inject(ProjectNotices);
  /** True while the next click on the picture is for it. */
  readonly isReady = signal(false);

  /** @param light linear light of the original there, of these primaries. */
  pick(light: readonly [number, number, number], primaries: Primaries): void {
    const found = whiteBalanceFrom(light, primaries);
    if (!found) return this.notices.info(workspaceWords.thatSpotIsTooDark, 'white');
    this.isReady.set(false);
    this.project.edit(workspaceWords.whiteBalance, ({ colour }) => void Object.assign(colour, found));
  }
}
