-- Exchange units of others that parts of models are computed by, as they were packed, by the hash of their bytes.
create table units (
    hash text primary key,
    packed blob not null
);
