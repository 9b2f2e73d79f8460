CREATE TABLE "solved_tables" (
	"name" text PRIMARY KEY NOT NULL,
	"entries" "bytea",
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
