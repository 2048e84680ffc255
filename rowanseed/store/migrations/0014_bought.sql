-- What was bought where it is less than the list asks for, or something else.
begin;
alter table got add column facts text;
pragma user_version = 14;
commit;
