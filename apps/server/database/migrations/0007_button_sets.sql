ALTER TABLE "button" ADD COLUMN "at_release" text DEFAULT 'steps' NOT NULL;--> statement-breakpoint
ALTER TABLE "button" ADD COLUMN "sets" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "button" ADD COLUMN "additions" jsonb DEFAULT '[]'::jsonb NOT NULL;