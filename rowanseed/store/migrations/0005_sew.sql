begin;
create table sheet (
  pattern_id integer not null references pattern(id) on delete cascade,
  view text not null,
  text text not null,
  primary key (pattern_id, view)
) without rowid;
create table step_log (
  make_id integer not null references make(id) on delete cascade,
  step text not null,
  kind text not null,
  text text not null,
  at text not null,
  primary key (make_id, step, kind)
) without rowid;
pragma user_version = 5;
commit;
