ALTER TABLE `libraries` ADD `book` integer DEFAULT false NOT NULL;--> statement-breakpoint
CREATE INDEX `items_by_source` ON `items` (`kind`,data ->> '$.data.source');--> statement-breakpoint
CREATE INDEX `swatches_by_book` ON `swatches` (data ->> '$.origin.book',data ->> '$.origin.code') WHERE data ->> '$.origin.book' IS NOT NULL;