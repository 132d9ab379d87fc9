-- Runs of studies with what each of their rows gave, so that they go on after a break.
create table studies (
    id text not null primary key,
    model_id text not null references models (id) on delete cascade,
    study text not null,
    revision integer not null,
    document text not null,
    state text not null,
    priority integer not null,
    made text not null,
    units text not null,
    seconds real not null
);

create index studies_of_model on studies (model_id, made);

-- Measures are doubles behind each other, verdicts a byte and a double each; NaN stands for what has no value.
create table study_results (
    study_id text not null references studies (id) on delete cascade,
    row integer not null,
    measures blob not null,
    verdicts blob not null,
    problem text,
    failed integer not null,
    seconds real not null,
    primary key (study_id, row)
) without rowid;
