import {
  bigint,
  boolean,
  customType,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
  uuid,
} from 'drizzle-orm/pg-core';
import type { ArtworkAnalysis, ArtworkFacts } from '@/server/artwork';
import type { ErrorReport } from '@/core/units';
import { type JobSheet, type Stock, upgradeJobSheet } from '@/core/sheet';
import type { TaskKind, TaskPayload, TaskProgress, TaskResult, TaskState } from '@/protocol/tasks';

const bytea = customType<{ data: Buffer; driverData: Buffer }>({ dataType: () => 'bytea' });
/** Sheets are stored as they were written; whoever reads one gets it as one of the newest version. */
const jobSheet = customType<{ data: JobSheet; driverData: unknown }>({
  dataType: () => 'jsonb',
  toDriver: (sheet) => JSON.stringify(sheet),
  fromDriver: (stored) => upgradeJobSheet(stored) as JobSheet,
});
const createdAt = () => timestamp('created_at', { withTimezone: true }).notNull().defaultNow();

/** Content of any size, in pieces of about a megabyte. */
export const files = pgTable('files', {
  id: uuid('id').primaryKey().defaultRandom(),
  name: text('name').notNull(),
  type: text('type').notNull(),
  size: bigint('size', { mode: 'number' }).notNull(),
  sha256: text('sha256').notNull(),
  createdAt: createdAt(),
});

export const filePieces = pgTable(
  'file_pieces',
  {
    fileId: uuid('file_id')
      .notNull()
      .references(() => files.id, { onDelete: 'cascade' }),
    seq: integer('seq').notNull(),
    bytes: bytea('bytes').notNull(),
  },
  (table) => [primaryKey({ columns: [table.fileId, table.seq] })],
);

/** Decoded once; by the hash of the file as it came. */
export const artworks = pgTable('artworks', {
  sha256: text('sha256').primaryKey(),
  fileId: uuid('file_id')
    .notNull()
    .references(() => files.id),
  /** A drawing's stored form, gzipped; null for pictures, and for drawings of older installations until a worker has made it. */
  drawingFileId: uuid('drawing_file_id').references(() => files.id),
  facts: jsonb('facts').$type<ArtworkFacts>().notNull(),
  analysis: jsonb('analysis').$type<ArtworkAnalysis>().notNull(),
  /** The map of what lies outside the drawing, gzipped; set when there is a background of one colour. */
  outerMap: bytea('outer_map'),
  outerWidth: integer('outer_width'),
  outerHeight: integer('outer_height'),
  createdAt: createdAt(),
});

/** Tiles of raster artwork: raw sRGB with straight alpha, gzipped. */
export const artworkTiles = pgTable(
  'artwork_tiles',
  {
    sha256: text('sha256')
      .notNull()
      .references(() => artworks.sha256, { onDelete: 'cascade' }),
    level: integer('level').notNull(),
    row: integer('row').notNull(),
    column: integer('column').notNull(),
    bytes: bytea('bytes').notNull(),
  },
  (table) => [primaryKey({ columns: [table.sha256, table.level, table.row, table.column] })],
);

/** Pictures that textures are made of, as samples in grey, gzipped; by the hash of the samples. */
export const textures = pgTable('textures', {
  sha256: text('sha256').primaryKey(),
  bytes: bytea('bytes').notNull(),
  createdAt: createdAt(),
});

/** Tables of tones that were solved for jobs that have just been opened, by their names; the entries are null while one is being solved. */
export const solvedTables = pgTable('solved_tables', {
  name: text('name').primaryKey(),
  entries: bytea('entries'),
  createdAt: createdAt(),
});

export const jobs = pgTable('jobs', {
  id: uuid('id').primaryKey().defaultRandom(),
  /** Number of the version in force. */
  head: integer('head').notNull(),
  /** The print on its garment, and the version that it shows. */
  pictureId: uuid('picture_id').references(() => files.id),
  pictureVersion: integer('picture_version'),
  /** Findings of that version. */
  findings: integer('findings'),
  createdAt: createdAt(),
  updatedAt: timestamp('updated_at', { withTimezone: true }).notNull().defaultNow(),
  /** Set when the job was deleted; it can be brought back until it is cleared away. */
  deletedAt: timestamp('deleted_at', { withTimezone: true }),
});

/** Every committed gesture. Undo moves the job's head to the parent, redo to the newest child. */
export const jobVersions = pgTable(
  'job_versions',
  {
    jobId: uuid('job_id')
      .notNull()
      .references(() => jobs.id, { onDelete: 'cascade' }),
    number: integer('number').notNull(),
    parent: integer('parent'),
    sheet: jobSheet('sheet').notNull(),
    /** A state that must not get lost has a name: approved, burned. */
    name: text('name'),
    createdAt: createdAt(),
  },
  (table) => [primaryKey({ columns: [table.jobId, table.number] })],
);

/** Long work. Whoever runs a task renews its lease; a task whose lease ran out is taken up by another. */
export const tasks = pgTable(
  'tasks',
  {
    id: uuid('id').primaryKey().defaultRandom(),
    kind: text('kind').$type<TaskKind>().notNull(),
    state: text('state').$type<TaskState>().notNull().default('queued'),
    jobId: uuid('job_id').references(() => jobs.id, { onDelete: 'cascade' }),
    payload: jsonb('payload').$type<TaskPayload>().notNull(),
    progress: jsonb('progress').$type<TaskProgress | null>(),
    result: jsonb('result').$type<TaskResult | null>(),
    error: jsonb('error').$type<ErrorReport | null>(),
    cancelRequested: boolean('cancel_requested').notNull().default(false),
    leaseOwner: text('lease_owner'),
    leaseUntil: timestamp('lease_until', { withTimezone: true }),
    /** Workers that ended while they ran this task and nothing else. */
    attempts: integer('attempts').notNull().default(0),
    /** When the task came to its end, whatever that was. */
    endedAt: timestamp('ended_at', { withTimezone: true }),
    createdAt: createdAt(),
  },
  (table) => [index('tasks_state').on(table.state, table.leaseUntil), index('tasks_job').on(table.jobId)],
);

/** Finished files of a task, visible only when it is done. */
export const taskFiles = pgTable(
  'task_files',
  {
    taskId: uuid('task_id')
      .notNull()
      .references(() => tasks.id, { onDelete: 'cascade' }),
    position: integer('position').notNull(),
    name: text('name').notNull(),
    fileId: uuid('file_id')
      .notNull()
      .references(() => files.id),
    /** Of the job, that the file was made from: a set of films may keep some from an earlier one. */
    version: integer('version'),
    /** The earliest of the job's versions in a row of film sets whose file was the same, byte for byte; null where it is the first one. */
    unchangedSince: integer('unchanged_since'),
  },
  (table) => [primaryKey({ columns: [table.taskId, table.position] })],
);

/** What the shop has, one document; the highest version is in force. */
export const stockVersions = pgTable('stock_versions', {
  version: integer('version').primaryKey(),
  stock: jsonb('stock').$type<Stock>().notNull(),
  createdAt: createdAt(),
});
