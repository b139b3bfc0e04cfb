CREATE TABLE "profile" (
	"id" text PRIMARY KEY NOT NULL,
	"show_id" text NOT NULL,
	"key" text NOT NULL,
	"content" jsonb NOT NULL,
	"order" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "reframe" (
	"id" text PRIMARY KEY NOT NULL,
	"show_id" text NOT NULL,
	"key" text NOT NULL,
	"name" text NOT NULL,
	"source" text NOT NULL,
	"x" double precision NOT NULL,
	"y" double precision NOT NULL,
	"scale" double precision NOT NULL,
	"order" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "role" (
	"id" text PRIMARY KEY NOT NULL,
	"show_id" text NOT NULL,
	"key" text NOT NULL,
	"name" text NOT NULL,
	"person" text NOT NULL,
	"source" text,
	"order" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "set_up" (
	"id" text PRIMARY KEY NOT NULL,
	"show_id" text NOT NULL,
	"device" text NOT NULL,
	"saved_at" text NOT NULL,
	"points" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "travel" (
	"id" text PRIMARY KEY NOT NULL,
	"device" text NOT NULL,
	"at" timestamp (3) with time zone NOT NULL,
	"measured_ms" double precision NOT NULL,
	"run" jsonb NOT NULL
);
--> statement-breakpoint
ALTER TABLE "device" ADD COLUMN "room" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "position" ADD COLUMN "in_head" jsonb;--> statement-breakpoint
ALTER TABLE "source" ADD COLUMN "line" integer;--> statement-breakpoint
ALTER TABLE "profile" ADD CONSTRAINT "profile_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "reframe" ADD CONSTRAINT "reframe_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "role" ADD CONSTRAINT "role_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "set_up" ADD CONSTRAINT "set_up_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "travel_device" ON "travel" USING btree ("device","at");