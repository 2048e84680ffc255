-- What a finished make leaves: pictures of it, and what each part of it cost beside what it was estimated at.
begin;
alter table make add column pictures text not null default '[]';
create table make_cost (
  make_id integer not null references make (id) on delete cascade,
  what text not null,
  estimate text not null default '',
  paid text not null,
  primary key (make_id, what)
);
pragma user_version = 11;
commit;
