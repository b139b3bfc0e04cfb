CREATE TABLE "station" (
	"id" text PRIMARY KEY NOT NULL,
	"show_id" text NOT NULL,
	"name" text NOT NULL,
	"place" text NOT NULL,
	"panels" jsonb NOT NULL,
	"opens_on" text,
	"link_group" text NOT NULL,
	"order" text NOT NULL
);
--> statement-breakpoint
ALTER TABLE "station" ADD CONSTRAINT "station_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;