CREATE TABLE "stock_versions" (
	"version" integer PRIMARY KEY NOT NULL,
	"stock" jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "job_versions" ADD COLUMN "name" text;--> statement-breakpoint
ALTER TABLE "jobs" ADD COLUMN "deleted_at" timestamp with time zone;