ALTER TABLE "station" ADD COLUMN "loose" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "station" ADD COLUMN "parts" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "station" ADD COLUMN "placed" jsonb DEFAULT '[]'::jsonb NOT NULL;