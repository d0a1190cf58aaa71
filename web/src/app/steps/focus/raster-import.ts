import { Injectable, inject } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import { type RasterLevel, depthMapSchema, makeRaster } from '@hazy-lens/core';
import { fileOpen } from 'browser-fs-access';
import { firstValueFrom } from 'rxjs';
import { decodeGrey } from '../../engine/codecs/codec';
import { Rasters } from '../../engine/rasters';
import { DEMO_PICTURES } from '../../project/session/demo';
import { reanchorMatte } from '../../model/carry';
import { Footage } from '../../project/footage/footage';
import { OwnDepth } from '../../project/session/own-depth';
import { OpenProject } from '../../project/session/open-project';
import { Notices } from '../../project/session/notices';
import { SelectionStore } from '../../workspace/selection-store';
import { AspectQuestion, type AspectAnswer } from './aspect-question';
import { sentenceOf } from '../../model/causes';
import { focusWords } from '../../words/focus';

/** Aspects that differ by less than this share are the same. */
const SAME_ASPECT = 0.02;

/** Brings grey pictures in: depth maps, and mattes made elsewhere. */
@Injectable()
export class RasterImport {
  private readonly project = inject(OpenProject);
  private readonly footage = inject(Footage);
  private readonly selection = inject(SelectionStore);
  private readonly rasters = inject(Rasters);
  private readonly notices = inject(Notices);
  private readonly dialog = inject(MatDialog);
  private readonly ownDepth = inject(OwnDepth);

  /** The depth map that came with the open demo picture, or null. */
  demoDepth(): string | null {
    const file = this.project.source()?.fileName;
    return DEMO_PICTURES.find((demo) => demo.file === file)?.depth ?? null;
  }

  /** The depth map that came with the picture where there is one and none is in use yet; else asks for a file. */
  async choose(): Promise<void> {
    if (this.project.recipe().focus.depthMap) return this.selection.choose({ kind: 'depth' });
    const own = this.demoDepth();
    if (own) return this.useDemo(own);
    if (await this.ownDepth.use()) return this.selection.choose({ kind: 'depth' });
    return this.open();
  }

  async useDemo(name: string): Promise<void> {
    const response = await fetch(`demo/${name}`).catch(() => null);
    if (!response?.ok) return this.notices.error(focusWords.theDepthMapCant(name));
    await this.useDepth(await response.blob(), name);
  }

  /** Asks for a file. */
  async open(): Promise<void> {
    const file = await pickGrey();
    if (file) await this.useDepth(file, file.name);
  }

  async useDepth(file: Blob, fileName: string): Promise<void> {
    const image = await this.bringIn(file, fileName, 'depth', 16);
    if (!image) return;
    this.project.edit(focusWords.depthMapName, (draft) => {
      const how = draft.focus.depthMap;
      if (how) how.image = image;
      else draft.focus.depthMap = depthMapSchema.parse({ image });
    });
    this.selection.choose({ kind: 'depth' });
  }

  /** A matte from a file, for the subject of an id. */
  async openMatte(id: string): Promise<void> {
    const file = await pickGrey();
    const image = file && (await this.bringIn(file, file.name, 'matte', 8));
    if (!image) return;
    const [seen, size, time] = [this.project.recipe(), this.project.size(), this.footage.moment()];
    this.project.edit(focusWords.matteFromAFile, (draft) => {
      reanchorMatte(draft, seen, id, time, size);
      for (const matte of draft.focus.mattes)
        if (matte.id === id) {
          matte.image = image;
          matte.scribbles = [];
        }
    });
  }

  /** Decodes, fits and keeps a grey picture; gives its name in the recipe, or null where the person turned away. */
  private async bringIn(
    file: Blob,
    fileName: string,
    kind: 'depth' | 'matte',
    depth: 8 | 16,
  ): Promise<string | null> {
    const { remote } = this.rasters;
    try {
      const grey = await decodeGrey(file, fileName);
      let level: RasterLevel = { width: grey.width, height: grey.height, samples: grey.samples };
      const { width, height } = this.project.size();
      const aspect = width / height;
      if (Math.abs(level.width / level.height / aspect - 1) > SAME_ASPECT) {
        const question = this.dialog.open<AspectQuestion, unknown, AspectAnswer>(AspectQuestion, {
          width: '420px',
          ariaLabel: focusWords.theShapeOfTheGreyPicture,
          data: { fileName, grey: level, picture: { width, height } },
        });
        const answer = await firstValueFrom(question.afterClosed());
        if (!answer) return null;
        if (answer === 'fit') level = await remote.crop(level, aspect);
      }
      const name = `${kind}-${crypto.randomUUID()}.png`;
      await this.rasters.put(
        name,
        makeRaster(name, level.width, level.height, level.samples),
        await remote.encode(level, depth),
      );
      if (grey.fromColour)
        this.notices.show({
          kind: 'info',
          text: focusWords.isInColourSo(fileName),
        });
      return name;
    } catch (error) {
      this.notices.error(sentenceOf(error));
      return null;
    }
  }
}

async function pickGrey(): Promise<File | null> {
  return fileOpen({
    mimeTypes: ['image/png', 'image/tiff', 'image/jpeg', 'image/webp', 'image/avif'],
    extensions: ['.png', '.tif', '.tiff', '.jpg', '.jpeg', '.webp', '.avif'],
    description: focusWords.greyscaleImages,
  }).catch(() => null);
}
