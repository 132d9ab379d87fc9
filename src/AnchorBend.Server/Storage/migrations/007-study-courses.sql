-- Courses that runs of studies keep: doubles (little-endian), one signal behind another, at the same instants in every row.
create table study_courses (
    study_id text not null references studies (id) on delete cascade,
    row integer not null,
    courses blob not null,
    primary key (study_id, row)
);

-- Whether a cluster runs the rows, instead of this machine.
alter table studies add column on_cluster integer not null default 0;
