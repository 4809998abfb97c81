CREATE TABLE `profiles` (
	`hash` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`space` text NOT NULL,
	`kind` text NOT NULL,
	`version` text NOT NULL,
	`size` integer NOT NULL,
	`prints` integer NOT NULL,
	`at` integer NOT NULL,
	FOREIGN KEY (`hash`) REFERENCES `assets`(`hash`) ON UPDATE no action ON DELETE no action
);
