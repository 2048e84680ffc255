begin;
create table yardage_cell (
  pattern_id integer not null references pattern(id) on delete cascade,
  view text not null,
  role text not null,
  size text not null,
  width_mm real not null,
  cloth text not null,
  asked text not null,
  cell text not null,
  primary key (pattern_id, view, role, size, width_mm, cloth)
) without rowid;
create table supply (
  id integer primary key,
  kind text not null,
  name text not null,
  facts text not null,
  demo integer not null default 0,
  version integer not null default 1
);
create table shop (
  id integer primary key,
  name text not null,
  facts text not null,
  demo integer not null default 0,
  version integer not null default 1
);
create table got (
  item text primary key,
  at text not null
) without rowid;
pragma user_version = 4;
commit;
