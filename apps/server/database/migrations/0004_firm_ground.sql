ALTER TABLE "edit" ADD COLUMN "version" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "show" ADD COLUMN "air_outputs" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "show" ADD COLUMN "version" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "show_value" ADD COLUMN "at_show_start" text DEFAULT 'reset' NOT NULL;--> statement-breakpoint
ALTER TABLE "version" ADD COLUMN "version" integer DEFAULT 1 NOT NULL;