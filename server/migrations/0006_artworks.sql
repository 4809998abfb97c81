CREATE TABLE `artworks` (
	`hash` text PRIMARY KEY NOT NULL,
	`at` integer NOT NULL,
	FOREIGN KEY (`hash`) REFERENCES `assets`(`hash`) ON UPDATE no action ON DELETE no action
);
