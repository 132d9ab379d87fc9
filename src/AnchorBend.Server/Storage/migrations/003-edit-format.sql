alter table edits add column format integer not null default 1;
