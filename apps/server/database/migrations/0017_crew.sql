CREATE TABLE "crew_member" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"rights" jsonb NOT NULL,
	"phrase" text
);
--> statement-breakpoint
ALTER TABLE "edit" ADD COLUMN "owner" text;--> statement-breakpoint
ALTER TABLE "station_key" ADD COLUMN "signed_in" jsonb;