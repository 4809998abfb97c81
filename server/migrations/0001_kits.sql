CREATE TABLE `kits` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`library_id` text NOT NULL,
	`revision` integer NOT NULL,
	`choices` text NOT NULL,
	`at` integer NOT NULL,
	FOREIGN KEY (`library_id`) REFERENCES `libraries`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `kits_of_library` ON `kits` (`library_id`,`id`);--> statement-breakpoint
CREATE TABLE `presets` (
	`name` text PRIMARY KEY NOT NULL,
	`destinations` text NOT NULL
);
