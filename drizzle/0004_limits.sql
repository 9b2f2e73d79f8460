ALTER TABLE "artworks" ADD COLUMN "drawing_file_id" uuid;--> statement-breakpoint
ALTER TABLE "tasks" ADD COLUMN "ended_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "artworks" ADD CONSTRAINT "artworks_drawing_file_id_files_id_fk" FOREIGN KEY ("drawing_file_id") REFERENCES "public"."files"("id") ON DELETE no action ON UPDATE no action;