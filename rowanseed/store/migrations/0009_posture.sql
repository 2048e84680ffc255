-- How a person stands: keys of postures, a JSON list.
begin;
alter table person add column posture text not null default '[]';
pragma user_version = 9;
commit;
