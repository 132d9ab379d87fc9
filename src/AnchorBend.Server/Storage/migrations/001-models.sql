create table models (
  id text primary key,
  name text not null,
  created text not null,
  changed text not null,
  revision integer not null,
  snapshot text not null,
  snapshot_revision integer not null
);

create table edits (
  model_id text not null references models(id) on delete cascade,
  revision integer not null,
  kind text not null check (kind in ('edit', 'undo', 'redo')),
  target integer,
  label text not null,
  operations text not null,
  inverse text not null,
  made text not null,
  primary key (model_id, revision)
) without rowid;
