ALTER TABLE `libraries` ADD `archived_at` integer;--> statement-breakpoint
ALTER TABLE `libraries` ADD `shelves` text DEFAULT '[]' NOT NULL;