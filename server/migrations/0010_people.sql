CREATE TABLE `people` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`link` text,
	`link_hash` text,
	`hash` text,
	`at` integer NOT NULL
);
--> statement-breakpoint
CREATE INDEX `people_by_link` ON `people` (`link`,`at`);--> statement-breakpoint
CREATE TABLE `present` (
	`page` text PRIMARY KEY NOT NULL,
	`library` integer NOT NULL,
	`person` text NOT NULL,
	`name` text NOT NULL,
	`selection` text NOT NULL,
	`at` integer NOT NULL,
	FOREIGN KEY (`library`) REFERENCES `libraries`(`num`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `present_by_library` ON `present` (`library`,`at`);--> statement-breakpoint
CREATE TABLE `visits` (
	`library` integer NOT NULL,
	`person` text NOT NULL,
	`seq` integer NOT NULL,
	`at` integer NOT NULL,
	PRIMARY KEY(`library`, `person`),
	FOREIGN KEY (`library`) REFERENCES `libraries`(`num`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
ALTER TABLE `changes` ADD `talk` integer DEFAULT false NOT NULL;