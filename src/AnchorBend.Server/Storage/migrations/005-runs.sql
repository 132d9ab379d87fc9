-- Runs that are kept for good; their traces lie in files beside the database.
create table runs (
    id text not null primary key,
    model_id text not null references models (id) on delete cascade,
    number integer not null,
    summary text not null,
    report text not null,
    document text not null
);

create index runs_of_model on runs (model_id, number);
