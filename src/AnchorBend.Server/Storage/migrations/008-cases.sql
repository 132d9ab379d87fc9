-- Runs of test cases with what each case gave, apart from the cases, which belong to the model.
create table case_runs (
    id text not null primary key,
    model_id text not null references models (id) on delete cascade,
    revision integer not null,
    document text not null,
    cases text not null,
    state text not null,
    made text not null
);

create index case_runs_of_model on case_runs (model_id, made);

create table case_results (
    run_id text not null references case_runs (id) on delete cascade,
    case_id text not null,
    outcome text not null,
    made text not null,
    result text not null,
    primary key (run_id, case_id)
);
