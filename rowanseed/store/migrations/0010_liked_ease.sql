-- The ease that was worn and judged right, by person, kind of garment and zone; the make it was worn in.
begin;
create table liked_ease (
  person_id integer not null references person (id) on delete cascade,
  garment text not null,
  zone text not null,
  mm real not null,
  make_id integer references make (id) on delete set null,
  at text not null,
  primary key (person_id, garment, zone)
);
pragma user_version = 10;
commit;
