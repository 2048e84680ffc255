-- What a piece looked like when it was cut, or printed: what is changed afterwards is held against it.
begin;
create table made_piece (
  make_id integer not null references make (id) on delete cascade,
  how text not null,
  item text not null,
  size text not null,
  shape text not null,
  at text not null,
  primary key (make_id, how, item)
);
pragma user_version = 13;
commit;
