CREATE TABLE "token" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"hash" text NOT NULL,
	"may" jsonb,
	"made_at" timestamp (3) with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "token_hash_unique" UNIQUE("hash")
);
