CREATE TABLE "station_key" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"person" text DEFAULT '' NOT NULL,
	"device" text DEFAULT '' NOT NULL,
	"rights" jsonb NOT NULL,
	"hash" text NOT NULL,
	"next_hash" text,
	"retired_hash" text,
	"key_from" timestamp (3) with time zone DEFAULT now() NOT NULL,
	"joined_at" timestamp (3) with time zone DEFAULT now() NOT NULL
);
