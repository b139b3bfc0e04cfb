CREATE TABLE "shortcut" (
	"id" text PRIMARY KEY NOT NULL,
	"show_id" text NOT NULL,
	"pressed" jsonb NOT NULL,
	"runs" jsonb NOT NULL,
	"order" text NOT NULL
);
--> statement-breakpoint
ALTER TABLE "shortcut" ADD CONSTRAINT "shortcut_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;