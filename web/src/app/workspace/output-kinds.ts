import { Injectable, signal } from '@angular/core';
import { clipSettingsSchema, defaultExportSettings } from '@hazy-lens/core';

/** How files are wanted, whatever project they are of. */
@Injectable({ providedIn: 'root' })
export class OutputKinds {
  readonly still = signal(defaultExportSettings());
  readonly clip = signal(clipSettingsSchema.parse({}));
  readonly repeatsUnread = signal(false);
  readonly mapFormat = signal<'png-8' | 'png-16' | 'tiff-16'>('png-16');
}
