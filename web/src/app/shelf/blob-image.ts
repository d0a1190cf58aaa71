import { Directive, ElementRef, effect, inject, input } from '@angular/core';

/** Shows a blob in an image and lets go of it afterwards. */
@Directive({ selector: 'img[hlBlob]' })
export class BlobImage {
  readonly hlBlob = input.required<Blob>();

  constructor() {
    const image = inject<ElementRef<HTMLImageElement>>(ElementRef).nativeElement;
    effect((onCleanup) => {
      const url = URL.createObjectURL(this.hlBlob());
      image.src = url;
      onCleanup(() => URL.revokeObjectURL(url));
    });
  }
}
