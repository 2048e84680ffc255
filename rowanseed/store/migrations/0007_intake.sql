-- Patterns in: files and photographs that pieces are taken from: what was read, what the user has decided so far.
begin;
create table intake (
  id integer primary key,
  way text not null check (way in ('file', 'photo')),
  name text not null,
  digest text not null,
  options text not null default '{}',
  result text,
  problem text not null default '',
  state text not null default '{}',
  pattern_id integer references pattern (id) on delete set null,
  at text not null,
  demo integer not null default 0,
  version integer not null default 1
);
create index intake_digest on intake (digest);
create table intake_file (
  intake_id integer not null references intake (id) on delete cascade,
  position integer not null,
  data blob not null,
  primary key (intake_id, position)
);
-- A pattern's own photographs and words, and whether it was put away (it is kept, and can be taken back).
alter table pattern add column tags text not null default '';
alter table pattern add column photos text not null default '[]';
alter table pattern add column put_away text;
pragma user_version = 7;
commit;
