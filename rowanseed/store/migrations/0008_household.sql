-- Who may come in from the home network: sessions, guests' links, attempts that failed. What was put away, to be taken back.
begin;
create table guest (
  id integer primary key,
  name text not null,
  make_id integer not null references make(id) on delete cascade,
  digest text not null unique,
  made_at text not null
);
create table session (
  digest text primary key,
  device text not null,
  guest_id integer references guest(id) on delete cascade,
  made_at text not null,
  seen_at text not null
) without rowid;
create index session_guest on session(guest_id);
create table attempt (
  address text primary key,
  failed integer not null,
  until real not null,
  at real not null
) without rowid;
create table bin (
  id integer primary key autoincrement,
  kind text not null,
  name text not null,
  rows text not null,
  at text not null
);
create index bin_at on bin(at);
alter table make add column put_away text;
alter table cloth add column put_away text;
alter table person add column put_away text;
alter table supply add column put_away text;
alter table shop add column put_away text;
pragma user_version = 8;
commit;
