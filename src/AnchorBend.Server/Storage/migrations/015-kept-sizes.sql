-- How much of the disk runs, shapes and units take, by who put them there; nobody where nobody signs in.
create table kept_sizes (
    item text not null primary key,
    account text not null,
    bytes integer not null
) without rowid;

create index kept_sizes_of_account on kept_sizes (account);
