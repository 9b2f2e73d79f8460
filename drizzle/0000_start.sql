CREATE TABLE "artwork_tiles" (
	"sha256" text NOT NULL,
	"level" integer NOT NULL,
	"row" integer NOT NULL,
	"column" integer NOT NULL,
	"bytes" "bytea" NOT NULL,
	CONSTRAINT "artwork_tiles_sha256_level_row_column_pk" PRIMARY KEY("sha256","level","row","column")
);
--> statement-breakpoint
CREATE TABLE "artworks" (
	"sha256" text PRIMARY KEY NOT NULL,
	"file_id" uuid NOT NULL,
	"facts" jsonb NOT NULL,
	"analysis" jsonb NOT NULL,
	"outer_map" "bytea",
	"outer_width" integer,
	"outer_height" integer,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "file_pieces" (
	"file_id" uuid NOT NULL,
	"seq" integer NOT NULL,
	"bytes" "bytea" NOT NULL,
	CONSTRAINT "file_pieces_file_id_seq_pk" PRIMARY KEY("file_id","seq")
);
--> statement-breakpoint
CREATE TABLE "files" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"name" text NOT NULL,
	"type" text NOT NULL,
	"size" bigint NOT NULL,
	"sha256" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "job_versions" (
	"job_id" uuid NOT NULL,
	"number" integer NOT NULL,
	"parent" integer,
	"sheet" jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "job_versions_job_id_number_pk" PRIMARY KEY("job_id","number")
);
--> statement-breakpoint
CREATE TABLE "jobs" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"head" integer NOT NULL,
	"picture_id" uuid,
	"picture_version" integer,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"updated_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "task_files" (
	"task_id" uuid NOT NULL,
	"position" integer NOT NULL,
	"name" text NOT NULL,
	"file_id" uuid NOT NULL,
	CONSTRAINT "task_files_task_id_position_pk" PRIMARY KEY("task_id","position")
);
--> statement-breakpoint
CREATE TABLE "tasks" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"kind" text NOT NULL,
	"state" text DEFAULT 'queued' NOT NULL,
	"job_id" uuid,
	"payload" jsonb NOT NULL,
	"progress" jsonb,
	"result" jsonb,
	"error" jsonb,
	"cancel_requested" boolean DEFAULT false NOT NULL,
	"lease_owner" text,
	"lease_until" timestamp with time zone,
	"attempts" integer DEFAULT 0 NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "artwork_tiles" ADD CONSTRAINT "artwork_tiles_sha256_artworks_sha256_fk" FOREIGN KEY ("sha256") REFERENCES "public"."artworks"("sha256") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "artworks" ADD CONSTRAINT "artworks_file_id_files_id_fk" FOREIGN KEY ("file_id") REFERENCES "public"."files"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "file_pieces" ADD CONSTRAINT "file_pieces_file_id_files_id_fk" FOREIGN KEY ("file_id") REFERENCES "public"."files"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "job_versions" ADD CONSTRAINT "job_versions_job_id_jobs_id_fk" FOREIGN KEY ("job_id") REFERENCES "public"."jobs"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "jobs" ADD CONSTRAINT "jobs_picture_id_files_id_fk" FOREIGN KEY ("picture_id") REFERENCES "public"."files"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "task_files" ADD CONSTRAINT "task_files_task_id_tasks_id_fk" FOREIGN KEY ("task_id") REFERENCES "public"."tasks"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "task_files" ADD CONSTRAINT "task_files_file_id_files_id_fk" FOREIGN KEY ("file_id") REFERENCES "public"."files"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tasks" ADD CONSTRAINT "tasks_job_id_jobs_id_fk" FOREIGN KEY ("job_id") REFERENCES "public"."jobs"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "tasks_state" ON "tasks" USING btree ("state","lease_until");--> statement-breakpoint
CREATE INDEX "tasks_job" ON "tasks" USING btree ("job_id");