-- Triangles that shapes of models show, packed, by the hash of their bytes.
create table meshes (
    hash text not null primary key,
    packed blob not null
);
