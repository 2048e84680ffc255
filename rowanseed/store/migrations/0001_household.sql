begin;
create table person (
  id integer primary key,
  name text not null,
  is_child integer not null default 0,
  note text not null default '',
  demo integer not null default 0,
  version integer not null default 1
);
create table measurement_set (
  id integer primary key,
  person_id integer not null references person(id) on delete cascade,
  taken_on text not null,
  note text not null default ''
);
create index measurement_set_person on measurement_set(person_id, taken_on);
create table measurement (
  set_id integer not null references measurement_set(id) on delete cascade,
  key text not null,
  mm real not null,
  text text not null,
  unit text not null,
  primary key (set_id, key)
);
create table pattern (
  id integer primary key,
  name text not null,
  label text not null default '',
  garment text not null,
  envelope text not null,
  demo integer not null default 0,
  version integer not null default 1
);
create table piece (
  id integer primary key,
  pattern_id integer not null references pattern(id) on delete cascade,
  number text not null,
  position integer not null,
  facts text not null,
  unique (pattern_id, number)
);
create table piece_shape (
  piece_id integer not null references piece(id) on delete cascade,
  size text not null,
  shape text not null,
  primary key (piece_id, size)
);
create table cloth (
  id integer primary key,
  name text not null,
  kind text not null,
  facts text not null,
  demo integer not null default 0,
  version integer not null default 1
);
create table make (
  id integer primary key,
  name text not null,
  pattern_id integer not null references pattern(id) on delete restrict,
  view text not null,
  plan text not null default '{}',
  started_on text not null,
  finished_on text,
  demo integer not null default 0,
  version integer not null default 1
);
create index make_pattern on make(pattern_id);
create table make_garment (
  id integer primary key,
  make_id integer not null references make(id) on delete cascade,
  position integer not null,
  person_id integer references person(id) on delete set null,
  size text
);
create index make_garment_make on make_garment(make_id, position);
create table make_cloth (
  make_id integer not null references make(id) on delete cascade,
  role text not null,
  cloth_id integer not null references cloth(id) on delete restrict,
  primary key (make_id, role)
);
create table lay (
  make_id integer not null references make(id) on delete cascade,
  role text not null,
  asked text not null,
  lay text not null,
  length_mm real not null,
  short_mm real not null,
  spread text not null,
  laid_at text not null,
  primary key (make_id, role)
);
create table tick (
  make_id integer not null references make(id) on delete cascade,
  list text not null,
  item text not null,
  at text not null,
  primary key (make_id, list, item)
);
create table note (
  id integer primary key,
  make_id integer not null references make(id) on delete cascade,
  kind text not null,
  text text not null,
  written_on text not null
);
create index note_make on note(make_id);
create table setting (
  key text primary key,
  value text not null
);
pragma user_version = 1;
commit;
