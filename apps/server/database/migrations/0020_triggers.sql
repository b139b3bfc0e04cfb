CREATE TABLE "show_trigger" (
	"id" text PRIMARY KEY NOT NULL,
	"show_id" text NOT NULL,
	"name" text NOT NULL,
	"rule_group" text NOT NULL,
	"kind" text NOT NULL,
	"occasion" jsonb NOT NULL,
	"steps" jsonb NOT NULL,
	"only_if" text NOT NULL,
	"delay_ms" double precision NOT NULL,
	"min_gap_ms" double precision NOT NULL,
	"again" text NOT NULL,
	"at_start" text NOT NULL,
	"order" text NOT NULL
);
--> statement-breakpoint
ALTER TABLE "show" ADD COLUMN "time_zone" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "show_trigger" ADD CONSTRAINT "show_trigger_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;