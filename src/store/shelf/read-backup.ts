import { strFromU8 } from 'fflate';
import * as z from 'zod';
import { readDesign, readDesignText } from '@/core/design/document/migrate';
import type { Design } from '@/core/design/document/schema';
import { brokenEntry, readZip, type ZipLimits } from '@/core/format/zip-entries';
import { failure, reasonOf, success, type Failure, type Result } from '@/core/result';
import { BACKUP_FORMAT, BACKUP_VERSION, hashOf, MANIFEST } from './backup';
import { TABLE_NAMES, tableNamed, type TableName } from './shelf-tables';

/** A design with the day and the count of its last change, where the manifest knows them. */
export interface BackedUp {
  readonly design: Design;
  readonly updatedAt: string | null;
  readonly revision: number;
}

/** What of a backup was not taken, or is to be known of it. */
export interface Fault extends Failure {
  readonly file: string;
}

/** What a backup holds that can be taken, table by table, and what of it does not read. */
export interface Backup {
  readonly designs: readonly BackedUp[];
  readonly tables: Readonly<Record<TableName, readonly Readonly<Record<string, unknown>>[]>>;
  readonly faults: readonly Fault[];
}

/** What a file is: one design by itself, or a backup, of however many rows. */
export type ShelfFile =
  { readonly kind: 'design'; readonly design: Design } | { readonly kind: 'backup'; readonly backup: Backup };

const LIMITS: ZipLimits = { entryBytes: 64e6, allBytes: 256e6, entries: 20_000 };
/** Larger files are no design: bytes. */
const MOST_BYTES = 256e6;

const listedSchema = z.object({
  file: z.string(),
  sha256: z.string().optional(),
  updatedAt: z.iso.datetime().optional(),
  revision: z.number().int().min(1).optional(),
});
type Listed = z.infer<typeof listedSchema>;
/** Of version 1 the designs alone are listed. */
const manifestSchema = z.object({
  format: z.literal(BACKUP_FORMAT),
  version: z.number(),
  designs: z.array(z.unknown()).optional(),
  files: z.array(z.unknown()).optional(),
});

const isZip = (bytes: Uint8Array): boolean => bytes[0] === 0x50 && bytes[1] === 0x4b;

/**
 * Reads one design as JSON, or a whole backup: each file of it that is whole is taken, each other is named. Fails as a
 * design does, with `file-too-large`, `not-a-zip`, `zip-too-large`, or `empty-zip` where nothing of a shelf is in it.
 * @param tell the share that is read, file by file: half of it unpacking.
 */
export function readShelfFile(
  bytes: Uint8Array,
  name: string,
  tell: (share: number) => void = () => {},
): Result<ShelfFile> {
  if (bytes.length > MOST_BYTES) return failure('shelf-too-large', { file: name, most: MOST_BYTES / 1e6 });
  if (!isZip(bytes)) {
    const one = readDesignText(new TextDecoder().decode(bytes));
    return one.ok ? success({ kind: 'design', design: one.value }) : one;
  }
  const content = readZip(bytes, LIMITS, (share) => tell(share / 2));
  if (!content.ok) return failure(content.code, { ...content.data, file: name });
  const files = new Map(content.value.entries.map((entry) => [entry.name, entry.bytes]));
  const faults = content.value.broken.map((entry): Fault => ({ ...brokenEntry(entry), file: entry.name }));
  const read = new BackupFiles(files, faults);
  const backup: Backup = {
    designs: read.designs((share) => tell((1 + share) / 2)),
    tables: Object.fromEntries(TABLE_NAMES.map((table) => [table, read.table(table)])) as unknown as Backup['tables'],
    faults: read.faults,
  };
  const rows = TABLE_NAMES.reduce((sum, table) => sum + backup.tables[table].length, backup.designs.length);
  return rows + backup.faults.length > 0 ? success({ kind: 'backup', backup }) : failure('empty-zip', { file: name });
}

/** The files of a backup, read one by one; what does not read is kept as a fault. */
class BackupFiles {
  private readonly listed: ReadonlyMap<string, Listed>;

  constructor(
    private readonly files: Map<string, Uint8Array>,
    readonly faults: Fault[],
  ) {
    this.listed = this.manifest();
    this.holdToManifest();
  }

  designs(tell: (share: number) => void): BackedUp[] {
    const tables = new Set<string>([MANIFEST, ...TABLE_NAMES.map((table) => tableNamed(table).file)]);
    return [...this.files.keys()].flatMap((file, i): BackedUp[] => {
      tell(i / this.files.size);
      if (!file.endsWith('.json') || tables.has(file)) return [];
      const given = this.parsed(file);
      if (given === undefined) return [];
      const read = readDesign(given);
      if (!read.ok) {
        this.fault(file, read);
        return [];
      }
      const { updatedAt = null, revision = 1 } = this.listed.get(file) ?? {};
      return [{ design: read.value, updatedAt, revision }];
    });
  }

  /** Rows of a table that read; each that does not is named by its place. */
  table(name: TableName): Readonly<Record<string, unknown>>[] {
    const { file, schema } = tableNamed(name);
    const given = this.parsed(file);
    if (given === undefined) return [];
    const broken = (issue: string) => {
      this.fault(file, failure('broken-table', { issues: [issue] }));
      return [];
    };
    if (!Array.isArray(given)) return broken('it is no list');
    return given.flatMap((item, i) => {
      const read = schema.safeParse(item);
      if (read.success) return [read.data];
      const [issue] = read.error.issues;
      return broken(`${[i, ...issue.path].join('.')}: ${issue.message}`);
    });
  }

  /** What there should be, by file. What of it does not read is named; a newer one is read as far as it is known. */
  private manifest(): ReadonlyMap<string, Listed> {
    const given = this.parsed(MANIFEST);
    if (given === undefined) return new Map();
    const read = manifestSchema.safeParse(given);
    if (!read.success) {
      const [issue] = read.error.issues;
      this.fault(MANIFEST, failure('broken-table', { issues: [`${issue.path.join('.')}: ${issue.message}`] }));
      return new Map();
    }
    const { version, designs = [], files = designs } = read.data;
    if (version > BACKUP_VERSION) this.fault(MANIFEST, failure('newer-backup', { version, known: BACKUP_VERSION }));
    return new Map(
      files.flatMap((entry, i): [string, Listed][] => {
        const listed = listedSchema.safeParse(entry);
        if (listed.success) return [[listed.data.file, listed.data]];
        const [issue] = listed.error.issues;
        this.fault(
          MANIFEST,
          failure('broken-table', { issues: [`${[i, ...issue.path].join('.')}: ${issue.message}`] }),
        );
        // Its name alone is enough to look for it.
        const file = (entry as { file?: unknown } | null)?.file;
        return typeof file === 'string' ? [[file, { file }]] : [];
      }),
    );
  }

  /**
   * Every file that is listed is held against its hash. One that is not there may have lost its name and is then known
   * by its hash; what is neither there nor found is named.
   */
  private holdToManifest(): void {
    const missing: Listed[] = [];
    for (const listed of this.listed.values()) {
      const bytes = this.files.get(listed.file);
      if (!bytes) missing.push(listed);
      else if (listed.sha256 !== undefined && hashOf(bytes) !== listed.sha256)
        this.fault(listed.file, failure('changed-file'));
    }
    if (missing.length === 0) return;
    const unlisted = [...this.files].filter(([file]) => file !== MANIFEST && !this.listed.has(file));
    const byHash = new Map(unlisted.map(([file, bytes]) => [hashOf(bytes), file]));
    for (const { file, sha256 } of missing) {
      const called = sha256 === undefined ? undefined : byHash.get(sha256);
      if (called !== undefined) {
        this.files.set(file, this.files.get(called)!);
        this.files.delete(called);
      } else if (!this.faults.some((f) => f.file === file)) this.fault(file, failure('missing-file'));
    }
  }

  private parsed(file: string): unknown {
    const bytes = this.files.get(file);
    if (!bytes) return undefined;
    try {
      return JSON.parse(strFromU8(bytes));
    } catch (error) {
      this.fault(file, failure('not-json', { message: reasonOf(error) }));
      return undefined;
    }
  }

  private fault(file: string, why: Failure): void {
    this.faults.push({ ...why, file });
  }
}
