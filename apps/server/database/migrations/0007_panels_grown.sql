CREATE TABLE "closed_show" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"at" timestamp (3) with time zone DEFAULT now() NOT NULL,
	"document" jsonb NOT NULL,
	"values" jsonb NOT NULL,
	"version" integer DEFAULT 1 NOT NULL
);
--> statement-breakpoint
ALTER TABLE "button" ADD COLUMN "at_release" text DEFAULT 'steps' NOT NULL;--> statement-breakpoint
ALTER TABLE "button" ADD COLUMN "sets" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "button" ADD COLUMN "additions" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "button" ADD COLUMN "dial" jsonb;--> statement-breakpoint
ALTER TABLE "button" ADD COLUMN "shift" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "button" ADD COLUMN "short" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "button" ADD COLUMN "icon" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "panel" ADD COLUMN "pages" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "strip" ADD COLUMN "page" text DEFAULT '' NOT NULL;