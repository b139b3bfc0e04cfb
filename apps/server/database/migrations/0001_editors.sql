ALTER TABLE "button" ADD COLUMN "guard" text DEFAULT 'none' NOT NULL;--> statement-breakpoint
ALTER TABLE "button" ADD COLUMN "family" text;--> statement-breakpoint
ALTER TABLE "edit" ADD COLUMN "by" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "edit" ADD COLUMN "kind" text DEFAULT 'edit' NOT NULL;--> statement-breakpoint
ALTER TABLE "edit" ADD COLUMN "undone" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "position" ADD COLUMN "focus" double precision;--> statement-breakpoint
ALTER TABLE "position" ADD COLUMN "iris" integer;--> statement-breakpoint
ALTER TABLE "source" ADD COLUMN "picture" text DEFAULT 'none' NOT NULL;