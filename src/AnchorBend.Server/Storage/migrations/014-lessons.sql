create table lessons (
  model_id text primary key references models(id) on delete cascade,
  lesson text not null,
  skipped text not null
) without rowid;
