CREATE TABLE "as_run" (
	"seq" bigint PRIMARY KEY NOT NULL,
	"at" timestamp (3) with time zone NOT NULL,
	"kind" text NOT NULL,
	"run_id" text,
	"device" text,
	"refused" boolean DEFAULT false NOT NULL,
	"entry" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "button" (
	"id" text PRIMARY KEY NOT NULL,
	"show_id" text NOT NULL,
	"strip_id" text NOT NULL,
	"legend" text NOT NULL,
	"note" text NOT NULL,
	"mode" text NOT NULL,
	"steps" jsonb NOT NULL,
	"release_steps" jsonb NOT NULL,
	"lamps" jsonb NOT NULL,
	"order" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "device" (
	"id" text PRIMARY KEY NOT NULL,
	"show_id" text NOT NULL,
	"key" text NOT NULL,
	"name" text NOT NULL,
	"kind" text NOT NULL,
	"host" text NOT NULL,
	"port" integer NOT NULL,
	"settings" jsonb NOT NULL,
	"order" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "edit" (
	"edit_id" text PRIMARY KEY NOT NULL,
	"show_id" text NOT NULL,
	"revision" integer NOT NULL,
	"label" text NOT NULL,
	"changes" jsonb NOT NULL,
	"taken_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "journal_cursor" (
	"installation" text NOT NULL,
	"file" text NOT NULL,
	"offset" bigint NOT NULL,
	CONSTRAINT "journal_cursor_installation_file_pk" PRIMARY KEY("installation","file")
);
--> statement-breakpoint
CREATE TABLE "macro" (
	"id" text PRIMARY KEY NOT NULL,
	"show_id" text NOT NULL,
	"number" integer NOT NULL,
	"name" text NOT NULL,
	"params" jsonb NOT NULL,
	"steps" jsonb NOT NULL,
	"stop_steps" jsonb NOT NULL,
	"again" text NOT NULL,
	"owns" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "panel" (
	"id" text PRIMARY KEY NOT NULL,
	"show_id" text NOT NULL,
	"name" text NOT NULL,
	"order" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "position" (
	"id" text PRIMARY KEY NOT NULL,
	"show_id" text NOT NULL,
	"key" text NOT NULL,
	"name" text NOT NULL,
	"camera" text NOT NULL,
	"pan" double precision NOT NULL,
	"tilt" double precision NOT NULL,
	"zoom" double precision NOT NULL,
	"head_number" integer,
	"order" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "show" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"frame_rate" double precision NOT NULL,
	"revision" integer DEFAULT 1 NOT NULL
);
--> statement-breakpoint
CREATE TABLE "source" (
	"id" text PRIMARY KEY NOT NULL,
	"show_id" text NOT NULL,
	"key" text NOT NULL,
	"name" text NOT NULL,
	"short_name" text NOT NULL,
	"family" text NOT NULL,
	"input" integer,
	"camera" text,
	"order" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "strip" (
	"id" text PRIMARY KEY NOT NULL,
	"show_id" text NOT NULL,
	"panel_id" text NOT NULL,
	"name" text NOT NULL,
	"family" text NOT NULL,
	"order" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "show_value" (
	"id" text PRIMARY KEY NOT NULL,
	"show_id" text NOT NULL,
	"key" text NOT NULL,
	"name" text NOT NULL,
	"start" jsonb NOT NULL,
	"order" text NOT NULL
);
--> statement-breakpoint
ALTER TABLE "button" ADD CONSTRAINT "button_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "device" ADD CONSTRAINT "device_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "edit" ADD CONSTRAINT "edit_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "macro" ADD CONSTRAINT "macro_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "panel" ADD CONSTRAINT "panel_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "position" ADD CONSTRAINT "position_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "source" ADD CONSTRAINT "source_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "strip" ADD CONSTRAINT "strip_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "show_value" ADD CONSTRAINT "show_value_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "as_run_run" ON "as_run" USING btree ("run_id");--> statement-breakpoint
CREATE INDEX "as_run_kind" ON "as_run" USING btree ("kind","seq");--> statement-breakpoint
CREATE INDEX "button_strip" ON "button" USING btree ("strip_id");