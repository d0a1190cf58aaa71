import {
  EnvironmentInjector,
  Injectable,
  InjectionToken,
  type Provider,
  type ProviderToken,
  type Type,
  type ViewContainerRef,
  createEnvironmentInjector,
  inject,
} from '@angular/core';
import { Store } from '@ngrx/store';
import { StageRenderLoop } from '../../engine/stage-render-loop';
import type { MediaSource } from '../../engine/media-source';
import type { Picture } from '../../engine/picture';
import type { Project } from '../../model/project';
import { ProjectActions } from './project.reducer';

/** All services that belong to one project: each project has its own, see `ProjectScope`. */
export const PROJECT_SERVICES = new InjectionToken<readonly Provider[]>('services of a project');

/** What a project stands on, ready to be shown. */
export interface OpenMaterial {
  material: MediaSource;
  /** Its first frame. */
  first: Picture;
}

/**
 * The services and the window of the open project. They are made when it opens and destroyed when it closes: work under
 * way is aborted then, and nothing of one project can reach another. What outlives a project knows of it only through here.
 */
@Injectable({ providedIn: 'root' })
export class ProjectScope {
  private readonly parent = inject(EnvironmentInjector);
  private readonly services = inject(PROJECT_SERVICES);
  private readonly store = inject(Store);
  private injector = this.made();
  private window: { place: ViewContainerRef; component: Type<unknown> } | null = null;

  /** A service of the open project. To be asked for anew after each wait: another project may be open by then. */
  get<T>(token: ProviderToken<T>): T {
    return this.injector.get(token);
  }

  /** Where, and as what, the open project is shown. */
  showIn(place: ViewContainerRef, component: Type<unknown>): void {
    this.window = { place, component };
    this.show();
  }

  /** Closes the open project and opens another in its place, in one go. */
  open(project: Project, opened: OpenMaterial): void {
    this.window?.place.clear();
    this.injector.destroy();
    this.store.dispatch(ProjectActions.opened({ project }));
    this.injector = this.made();
    this.get(StageRenderLoop).open(opened.material, opened.first);
    this.show();
  }

  private made(): EnvironmentInjector {
    return createEnvironmentInjector([...this.services], this.parent, 'project');
  }

  private show(): void {
    const { window, injector } = this;
    window?.place.createComponent(window.component, { environmentInjector: injector });
  }
}
