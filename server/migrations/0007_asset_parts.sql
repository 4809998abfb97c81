CREATE TABLE `asset_parts` (
	`hash` text NOT NULL,
	`part` integer NOT NULL,
	`bytes` blob NOT NULL,
	PRIMARY KEY(`hash`, `part`),
	FOREIGN KEY (`hash`) REFERENCES `assets`(`hash`) ON UPDATE no action ON DELETE no action
);

--> statement-breakpoint
INSERT INTO `asset_parts` (`hash`, `part`, `bytes`)
WITH RECURSIVE `pieces` (`hash`, `part`, `of`) AS (
	SELECT `hash`, 1, (length(`bytes`) - 1) / 4000000 FROM `assets` WHERE length(`bytes`) > 4000000
	UNION ALL
	SELECT `hash`, `part` + 1, `of` FROM `pieces` WHERE `part` < `of`
)
SELECT `pieces`.`hash`, `part`, substr(`assets`.`bytes`, `part` * 4000000 + 1, 4000000)
FROM `pieces` JOIN `assets` ON `assets`.`hash` = `pieces`.`hash`;
--> statement-breakpoint
UPDATE `assets` SET `bytes` = substr(`bytes`, 1, 4000000) WHERE length(`bytes`) > 4000000;
