import { Injectable } from '@angular/core';
import { type ExportPreset, exportPresetSchema } from '@hazy-lens/core';
import * as z from 'zod';
import { Database } from './database';
import { type NamedRow, NamedRows, readWith } from './named-rows';

/** Export settings that were kept; their name is the row's. */
export interface StoredPreset extends NamedRow {
  preset: ExportPreset;
}

const row = z
  .object({
    id: z.string(),
    name: z.string().catch('Preset'),
    made: z.number().catch(0),
    preset: exportPresetSchema,
    deleted: z.number().optional().catch(undefined),
  })
  .transform((one) => ({ ...one, preset: { ...one.preset, name: one.name } }));

/** The export presets that this browser keeps. */
@Injectable({ providedIn: 'root' })
export class Presets extends NamedRows<StoredPreset> {
  constructor() {
    super(new Database().presets, readWith(row));
  }

  keep(preset: ExportPreset): Promise<void> {
    return this.put({ name: preset.name, preset });
  }
}
