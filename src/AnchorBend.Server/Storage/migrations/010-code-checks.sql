-- The last check of each delivery of a model.
create table code_checks (
    model_id text not null references models (id) on delete cascade,
    delivery text not null,
    result text not null,
    made text not null,
    primary key (model_id, delivery)
);
