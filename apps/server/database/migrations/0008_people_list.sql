CREATE TABLE "person" (
	"id" text PRIMARY KEY NOT NULL,
	"show_id" text NOT NULL,
	"key" text NOT NULL,
	"name" text NOT NULL,
	"title" text NOT NULL,
	"place" text NOT NULL,
	"order" text NOT NULL
);
--> statement-breakpoint
ALTER TABLE "person" ADD CONSTRAINT "person_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;