create table own_parts (
    name text primary key,
    text text not null,
    changed text not null
);
