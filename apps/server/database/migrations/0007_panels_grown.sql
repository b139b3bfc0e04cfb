ALTER TABLE "button" ADD COLUMN "at_release" text DEFAULT 'steps' NOT NULL;--> statement-breakpoint
ALTER TABLE "button" ADD COLUMN "sets" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "button" ADD COLUMN "additions" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "button" ADD COLUMN "dial" jsonb;--> statement-breakpoint
ALTER TABLE "button" ADD COLUMN "shift" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "button" ADD COLUMN "short" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "button" ADD COLUMN "icon" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "panel" ADD COLUMN "pages" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "strip" ADD COLUMN "page" text DEFAULT '' NOT NULL;