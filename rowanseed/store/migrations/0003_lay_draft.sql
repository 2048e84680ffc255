begin;
create table lay_draft (
  make_id integer not null references make(id) on delete cascade,
  role text not null,
  asked text not null,
  lay text not null,
  drawn_at text not null,
  primary key (make_id, role)
) without rowid;
pragma user_version = 3;
commit;
