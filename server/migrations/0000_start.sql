CREATE TABLE `history` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`library_id` text NOT NULL,
	`edit` text NOT NULL,
	`inverse` text NOT NULL,
	`undone` integer DEFAULT false NOT NULL,
	`at` integer NOT NULL,
	FOREIGN KEY (`library_id`) REFERENCES `libraries`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `history_of_library` ON `history` (`library_id`,`undone`,`id`);--> statement-breakpoint
CREATE TABLE `libraries` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`content` text NOT NULL,
	`revision` integer DEFAULT 0 NOT NULL,
	`band` text NOT NULL,
	`swatch_count` integer NOT NULL,
	`group_count` integer NOT NULL,
	`search_text` text NOT NULL,
	`changed_at` integer NOT NULL,
	`deleted_at` integer
);
--> statement-breakpoint
CREATE INDEX `libraries_changed` ON `libraries` (`deleted_at`,`changed_at`);