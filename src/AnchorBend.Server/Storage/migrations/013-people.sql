create table accounts (
  id text primary key,
  name text not null unique collate nocase,
  shown text not null,
  password text not null,
  is_administrator integer not null,
  is_off integer not null,
  made text not null,
  failures integer not null,
  locked_until text
) without rowid;

create table sessions (
  hash text primary key,
  account text not null references accounts(id) on delete cascade,
  made text not null,
  last text not null,
  ends text not null,
  came_from text not null
) without rowid;

create table tokens (
  id text primary key,
  hash text not null unique,
  account text not null references accounts(id) on delete cascade,
  name text not null,
  may_edit integer not null,
  made text not null,
  ends text not null,
  last text
) without rowid;

create table grants (
  folder text not null,
  account text not null,
  may text not null check (may in ('None', 'View', 'Edit', 'Administer')),
  primary key (folder, account)
) without rowid;

create table audit (
  number integer primary key autoincrement,
  at text not null,
  who text not null,
  what text not null,
  about text not null,
  came_from text not null
);

alter table models add column owner text not null default '';
