import {
  type ApplicationConfig,
  provideBrowserGlobalErrorListeners,
  provideZonelessChangeDetection,
} from '@angular/core';
import { MAT_BUTTON_TOGGLE_DEFAULT_OPTIONS } from '@angular/material/button-toggle';
import { MATERIAL_ANIMATIONS } from '@angular/material/core';
import { MAT_SLIDE_TOGGLE_DEFAULT_OPTIONS } from '@angular/material/slide-toggle';
import { MAT_TOOLTIP_DEFAULT_OPTIONS } from '@angular/material/tooltip';
import { provideStore } from '@ngrx/store';
import { provideIcons } from './ui/icons';
import { projectReducer } from './project/session/project.reducer';
import { PROJECT_SERVICES } from './project/session/scope';
import { ALL_PROJECT_SERVICES } from './shell/project-services';

export const appConfig: ApplicationConfig = {
  providers: [
    provideBrowserGlobalErrorListeners(),
    provideZonelessChangeDetection(),
    provideStore({ project: projectReducer }),
    { provide: PROJECT_SERVICES, useValue: ALL_PROJECT_SERVICES },
    provideIcons(),
    { provide: MAT_BUTTON_TOGGLE_DEFAULT_OPTIONS, useValue: { hideSingleSelectionIndicator: true } },
    { provide: MAT_SLIDE_TOGGLE_DEFAULT_OPTIONS, useValue: { hideIcon: true } },
    { provide: MATERIAL_ANIMATIONS, useValue: { animationsDisabled: true } },
    {
      provide: MAT_TOOLTIP_DEFAULT_OPTIONS,
      useValue: { showDelay: 500, hideDelay: 0, touchendHideDelay: 1500, position: 'below' },
    },
  ],
};
