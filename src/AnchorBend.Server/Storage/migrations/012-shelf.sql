alter table models add column folder text not null default '';
alter table models add column trashed text;

create table model_tags (
  model_id text not null references models(id) on delete cascade,
  tag text not null,
  primary key (model_id, tag)
) without rowid;

create table folders (
  path text primary key
) without rowid;

create table cards (
  key text primary key,
  revision integer not null,
  stamp text not null,
  words text not null,
  domains text not null,
  card text not null
);
