CREATE TABLE `links` (
	`id` text PRIMARY KEY NOT NULL,
	`library` integer NOT NULL,
	`kind` text NOT NULL,
	`hash` text NOT NULL,
	`data` text NOT NULL,
	`at` integer NOT NULL,
	`used_at` integer,
	`uses` integer DEFAULT 0 NOT NULL,
	FOREIGN KEY (`library`) REFERENCES `libraries`(`num`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `links_by_hash` ON `links` (`hash`);--> statement-breakpoint
CREATE INDEX `links_by_library` ON `links` (`library`,`at`);