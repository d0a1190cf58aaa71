import { Injectable, inject } from '@angular/core';
import { CUBE_SIZE, formatCube, safeName } from '@hazy-lens/core';
import { Exporter } from '../../engine/export';
import { LutCache } from '../../engine/lut-cache';
import { withLook } from '../../model/looks';
import { OwnLooks } from '../../storage/own-looks';
import { OpenProject } from '../session/open-project';
import { projectWords } from '../../words/project';

const LONGEST_NAME = 80;

/** The colours of the open project put on the shelf of looks, and tables from files put there and used. */
@Injectable()
export class LookShelf {
  private readonly looks = inject(OwnLooks);
  private readonly luts = inject(LutCache);
  private readonly project = inject(OpenProject);
  private readonly exporter = inject(Exporter);

  /** The colours of the open project, their look included, as a .cube file. */
  async cube(): Promise<File> {
    const { colour } = this.project.recipe();
    const name = safeName(this.project.state().name);
    const table = colour.look?.image === undefined ? null : await this.luts.get(colour.look.image);
    const samples = await this.exporter.table(colour, table, CUBE_SIZE);
    return new File([formatCube(name, CUBE_SIZE, samples)], `${name}.cube`, { type: 'text/plain' });
  }

  /** Keeps the colours of the open project as a look. */
  async keep(name: string): Promise<void> {
    await this.put(name, await this.cube());
  }

  /** Keeps the table of a file as a look, and gives it to the open picture. @throws Error with a sentence that names the file. */
  async bringIn(file: File): Promise<void> {
    const name = file.name.replace(/\.cube$/i, '') || projectWords.look;
    const image = await this.put(name, file);
    this.project.edit(projectWords.lookNamed(name), (draft) => {
      draft.colour = withLook(draft.colour, { image });
    });
  }

  private async put(name: string, file: File): Promise<string> {
    const image = await this.luts.keep(file, file.name);
    await this.looks.keep(name.trim().slice(0, LONGEST_NAME) || projectWords.look, image);
    return image;
  }
}
