-- What was kept as one document for each library is kept as rows. The documents stay beside them under other names until
-- server/documents.ts has brought them over, library by library, and then go.
DROP INDEX `libraries_changed`;--> statement-breakpoint
DROP INDEX `history_of_library`;--> statement-breakpoint
DROP INDEX `kits_of_library`;--> statement-breakpoint
DROP INDEX `pictures_of_library`;--> statement-breakpoint
ALTER TABLE `libraries` RENAME TO `old_libraries`;--> statement-breakpoint
ALTER TABLE `history` RENAME TO `old_history`;--> statement-breakpoint
ALTER TABLE `kits` RENAME TO `old_kits`;--> statement-breakpoint
ALTER TABLE `pictures` RENAME TO `old_pictures`;--> statement-breakpoint
CREATE TABLE `about` (
	`key` text PRIMARY KEY NOT NULL,
	`value` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `assets` (
	`hash` text PRIMARY KEY NOT NULL,
	`mime` text NOT NULL,
	`bytes` blob NOT NULL
);
--> statement-breakpoint
CREATE TABLE `changes` (
	`n` integer PRIMARY KEY NOT NULL,
	`id` text NOT NULL,
	`library` integer NOT NULL,
	`seq` integer NOT NULL,
	`author` text NOT NULL,
	`step` text NOT NULL,
	`undoes` text,
	`undone` integer DEFAULT false NOT NULL,
	`label` text NOT NULL,
	`rows` integer NOT NULL,
	`ops` text,
	`inverse` text,
	`said` text,
	`at` integer NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `changes_id` ON `changes` (`id`);--> statement-breakpoint
CREATE INDEX `changes_of_author` ON `changes` (`library`,`author`,`step`,`undone`,`seq`);--> statement-breakpoint
CREATE TABLE `groups` (
	`library` integer NOT NULL,
	`id` text NOT NULL,
	`order_key` text NOT NULL,
	`name` text NOT NULL,
	`folded` text NOT NULL,
	`data` text NOT NULL,
	PRIMARY KEY(`library`, `id`),
	FOREIGN KEY (`library`) REFERENCES `libraries`(`num`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `groups_in_order` ON `groups` (`library`,`order_key`,`id`);--> statement-breakpoint
CREATE TABLE `items` (
	`library` integer NOT NULL,
	`id` text NOT NULL,
	`order_key` text NOT NULL,
	`kind` text NOT NULL,
	`name` text NOT NULL,
	`data` text NOT NULL,
	PRIMARY KEY(`library`, `id`),
	FOREIGN KEY (`library`) REFERENCES `libraries`(`num`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `kits` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`library` integer NOT NULL,
	`revision` integer NOT NULL,
	`choices` text NOT NULL,
	`at` integer NOT NULL,
	FOREIGN KEY (`library`) REFERENCES `libraries`(`num`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `kits_by_library` ON `kits` (`library`,`id`);--> statement-breakpoint
CREATE TABLE `libraries` (
	`num` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`id` text NOT NULL,
	`name` text NOT NULL,
	`folded` text NOT NULL,
	`data` text NOT NULL,
	`seq` integer DEFAULT 0 NOT NULL,
	`next_swatch` integer DEFAULT 0 NOT NULL,
	`band` text,
	`swatch_count` integer DEFAULT 0 NOT NULL,
	`group_count` integer DEFAULT 0 NOT NULL,
	`changed_at` integer NOT NULL,
	`deleted_at` integer
);
--> statement-breakpoint
CREATE UNIQUE INDEX `libraries_id` ON `libraries` (`id`);--> statement-breakpoint
CREATE INDEX `libraries_by_change` ON `libraries` (`deleted_at`,`changed_at`);--> statement-breakpoint
CREATE TABLE `pictures` (
	`id` text NOT NULL,
	`library` integer NOT NULL,
	`name` text NOT NULL,
	`width` integer NOT NULL,
	`height` integer NOT NULL,
	`asset` text NOT NULL,
	`takes` text NOT NULL,
	`at` integer NOT NULL,
	PRIMARY KEY(`library`, `id`),
	FOREIGN KEY (`library`) REFERENCES `libraries`(`num`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`asset`) REFERENCES `assets`(`hash`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `pictures_by_library` ON `pictures` (`library`,`at`);--> statement-breakpoint
CREATE TABLE `swatches` (
	`n` integer PRIMARY KEY NOT NULL,
	`library` integer NOT NULL,
	`id` text NOT NULL,
	`group_id` text NOT NULL,
	`order_key` text NOT NULL,
	`name` text NOT NULL,
	`code` text,
	`kind` text NOT NULL,
	`role` text,
	`hex` text NOT NULL,
	`l` real NOT NULL,
	`a` real NOT NULL,
	`b` real NOT NULL,
	`cell` integer NOT NULL,
	`data` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `swatches_id` ON `swatches` (`library`,`id`);--> statement-breakpoint
CREATE INDEX `swatches_in_order` ON `swatches` (`library`,`group_id`,`order_key`,`id`);--> statement-breakpoint
CREATE INDEX `swatches_by_color` ON `swatches` (`cell`,`l`,`a`,`b`);--> statement-breakpoint
-- any part of a name is found, from three characters on; the texts themselves stand in the rows
CREATE VIRTUAL TABLE `swatch_search` USING fts5(text, content='', contentless_delete=1, tokenize='trigram');--> statement-breakpoint
CREATE VIRTUAL TABLE `swatch_search_terms` USING fts5vocab(`swatch_search`, 'row');
