import * as z from 'zod';
import type { SourceInfo, ProjectDocument } from '../model/project';

const size = z.int().min(1);

const sourceRow: z.ZodType<SourceInfo> = z.object({
  id: z.string(),
  fileName: z.string().catch('picture'),
  type: z.string().catch('picture'),
  bytes: z.number().catch(0),
  width: size,
  height: size,
  bits: z.number().optional().catch(undefined),
  profile: z.string().nullish().catch(null),
  pages: z.number().optional().catch(undefined),
  date: z.string().nullable().catch(null),
  footage: z
    .object({
      frames: z.int().min(1),
      seconds: z.number(),
      fps: z.number().positive(),
      codec: z.string(),
      sound: z.string().nullable(),
    })
    .optional()
    .catch(undefined),
});

/** A project as it is stored: what can be done without becomes something plain where it is damaged. */
const projectRow = z.object({
  id: z.string(),
  name: z.string().catch('Project'),
  created: z.number().catch(0),
  changed: z.number().catch(0),
  source: sourceRow,
  /** Read by `restored`, which finds the newest that is whole. */
  work: z.custom<ProjectDocument>(() => true),
  /** `seq` of the newest step that is done, -1 for none; steps after it were taken back. */
  done: z.number().catch(-1),
  thumbnail: z.instanceof(Blob).nullable().catch(null),
  /** Counts up with each project that is opened, here or in another tab: the highest is that of last time. */
  opened: z.number().optional().catch(undefined),
  /** Set while a deleted project can still be brought back. */
  deleted: z.number().optional().catch(undefined),
});

export type StoredProject = z.infer<typeof projectRow>;

/** A row of the projects, or null where it cannot be one: it stays where it lies. */
export function readProject(row: unknown): StoredProject | null {
  return projectRow.safeParse(row).data ?? null;
}
