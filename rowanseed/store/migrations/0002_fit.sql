begin;
alter table person add column born_on text;
create table fit_note (
  id integer primary key,
  make_id integer not null references make(id) on delete cascade,
  garment_id integer references make_garment(id) on delete set null,
  trial text not null,
  place text not null,
  fault text not null,
  mm real not null,
  text text not null,
  unit text not null,
  words text not null default '',
  written_on text not null
);
create index fit_note_make on fit_note(make_id);
pragma user_version = 2;
commit;
