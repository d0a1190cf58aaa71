import { type EntityTable, type Observable, liveQuery } from 'dexie';

/** What stands on a shelf under a name. */
export interface NamedRow {
  id: string;
  name: string;
  made: number;
  /** Set while a deleted one can still be brought back. */
  deleted?: number | undefined;
}

const DAY_MS = 24 * 3600 * 1000;

/** Rows under names; what is taken off can be put back for a day. */
export abstract class NamedRows<Row extends NamedRow> {
  /** @param read a row as it lies, or null where it is damaged beyond use. */
  constructor(
    private readonly table: EntityTable<Row, 'id'>,
    private readonly read: (row: unknown) => Row | null,
  ) {}

  /** All of them whenever they change, here or in another tab, by their names; and what was taken off today. */
  shelf(): Observable<{ all: Row[]; removed: Row[] }> {
    return liveQuery(async () => {
      const rows = (await this.table.toArray()).map(this.read).filter((row) => row !== null);
      const byName = rows.sort((a, b) => a.name.localeCompare(b.name) || a.made - b.made);
      return {
        all: byName.filter(({ deleted }) => deleted === undefined),
        removed: byName.filter(({ deleted }) => deleted !== undefined && deleted > Date.now() - DAY_MS),
      };
    });
  }

  /** Null where it is not there, or damaged. */
  async get(id: string): Promise<Row | null> {
    const [row] = await this.table.where('id').equals(id).toArray();
    return row ? this.read(row) : null;
  }

  protected async put(row: Omit<Row, 'id' | 'made'>): Promise<void> {
    await this.table.put({ ...row, id: crypto.randomUUID(), made: Date.now() } as unknown as Row);
  }

  async rename(id: string, name: string): Promise<void> {
    await this.change(id, { name });
  }

  /** Takes one off the shelf; `restore` brings it back for a day. */
  async remove(id: string): Promise<void> {
    await this.change(id, { deleted: Date.now() });
    const isGone = ({ deleted }: Row): boolean => deleted !== undefined && deleted < Date.now() - DAY_MS;
    await this.table.filter(isGone).delete();
  }

  async restore(id: string): Promise<void> {
    await this.change(id, { deleted: undefined });
  }

  private async change(id: string, to: Partial<NamedRow>): Promise<void> {
    await this.table
      .where('id')
      .equals(id)
      .modify((row) => void Object.assign(row, to));
  }
}

/** The row of a schema, or null: what can be done without becomes something plain where it is damaged. */
export function readWith<Row>(schema: {
  safeParse(row: unknown): { data?: Row | undefined };
}): (row: unknown) => Row | null {
  return (row) => schema.safeParse(row).data ?? null;
}
