CREATE TABLE "version" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"by" text NOT NULL,
	"at" timestamp (3) with time zone DEFAULT now() NOT NULL,
	"document" jsonb NOT NULL
);
