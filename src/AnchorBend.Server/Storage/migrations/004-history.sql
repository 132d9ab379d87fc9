-- Who made an edit and what it touched, for the history; checkpoints name revisions.
alter table edits add column author text not null default '';
alter table edits add column effect text not null default '';

create table checkpoints (
    model_id text not null references models (id) on delete cascade,
    revision integer not null,
    name text not null,
    note text not null,
    author text not null,
    made text not null,
    primary key (model_id, revision)
);
