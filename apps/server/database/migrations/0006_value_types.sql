ALTER TABLE "show_value" ADD COLUMN "type" text DEFAULT 'plain' NOT NULL;--> statement-breakpoint
ALTER TABLE "show_value" ADD COLUMN "choices" jsonb DEFAULT '[]'::jsonb NOT NULL;