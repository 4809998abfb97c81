CREATE TABLE `pictures` (
	`id` text NOT NULL,
	`library_id` text NOT NULL,
	`name` text NOT NULL,
	`width` integer NOT NULL,
	`height` integer NOT NULL,
	`mime` text NOT NULL,
	`copy` blob NOT NULL,
	`takes` text NOT NULL,
	`at` integer NOT NULL,
	PRIMARY KEY(`library_id`, `id`),
	FOREIGN KEY (`library_id`) REFERENCES `libraries`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `pictures_of_library` ON `pictures` (`library_id`,`at`);