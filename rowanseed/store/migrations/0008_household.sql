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
-- What is found by its words: a line for each thing, kept by triggers, and an index over them (FTS5).
create table thing (
  id integer primary key,
  kind text not null,
  ref integer not null,
  title text not null,
  words text not null,
  away text,
  used_at text not null,
  unique (kind, ref)
);
create virtual table found using fts5(
  title, words, content = 'thing', content_rowid = 'id', tokenize = "unicode61 remove_diacritics 2", prefix = '2 3'
);
create trigger thing_in after insert on thing begin
  insert into found (rowid, title, words) values (new.id, new.title, new.words);
end;
create trigger thing_out after delete on thing begin
  insert into found (found, rowid, title, words) values ('delete', old.id, old.title, old.words);
end;
create trigger thing_new after update of title, words on thing begin
  insert into found (found, rowid, title, words) values ('delete', old.id, old.title, old.words);
  insert into found (rowid, title, words) values (new.id, new.title, new.words);
end;
create trigger found_make_in after insert on make begin
  insert into thing (kind, ref, title, words, away, used_at)
    values ('make', new.id, new.name, new.view || ' ' || coalesce((select name from pattern where id = new.pattern_id), ''), new.put_away, strftime('%Y-%m-%dT%H:%M:%S', 'now'))
    on conflict (kind, ref) do update set title = excluded.title, words = excluded.words, away = excluded.away, used_at = excluded.used_at;
end;
create trigger found_make_new after update on make begin
  insert into thing (kind, ref, title, words, away, used_at)
    values ('make', new.id, new.name, new.view || ' ' || coalesce((select name from pattern where id = new.pattern_id), ''), new.put_away, strftime('%Y-%m-%dT%H:%M:%S', 'now'))
    on conflict (kind, ref) do update set title = excluded.title, words = excluded.words, away = excluded.away, used_at = excluded.used_at;
end;
create trigger found_make_out after delete on make begin
  delete from thing where kind = 'make' and ref = old.id;
end;
insert into thing (kind, ref, title, words, away, used_at)
  select 'make', make.id, make.name, make.view || ' ' || coalesce((select name from pattern where id = make.pattern_id), ''), make.put_away, strftime('%Y-%m-%dT%H:%M:%S', 'now') from make;
create trigger found_pattern_in after insert on pattern begin
  insert into thing (kind, ref, title, words, away, used_at)
    values ('pattern', new.id, new.name, new.label || ' ' || new.garment || ' ' || new.tags || ' ' || (select coalesce(group_concat(atom, ' '), '') from json_tree(new.envelope) where type = 'text'), new.put_away, strftime('%Y-%m-%dT%H:%M:%S', 'now'))
    on conflict (kind, ref) do update set title = excluded.title, words = excluded.words, away = excluded.away, used_at = excluded.used_at;
end;
create trigger found_pattern_new after update on pattern begin
  insert into thing (kind, ref, title, words, away, used_at)
    values ('pattern', new.id, new.name, new.label || ' ' || new.garment || ' ' || new.tags || ' ' || (select coalesce(group_concat(atom, ' '), '') from json_tree(new.envelope) where type = 'text'), new.put_away, strftime('%Y-%m-%dT%H:%M:%S', 'now'))
    on conflict (kind, ref) do update set title = excluded.title, words = excluded.words, away = excluded.away, used_at = excluded.used_at;
end;
create trigger found_pattern_out after delete on pattern begin
  delete from thing where kind = 'pattern' and ref = old.id;
end;
insert into thing (kind, ref, title, words, away, used_at)
  select 'pattern', pattern.id, pattern.name, pattern.label || ' ' || pattern.garment || ' ' || pattern.tags || ' ' || (select coalesce(group_concat(atom, ' '), '') from json_tree(pattern.envelope) where type = 'text'), pattern.put_away, strftime('%Y-%m-%dT%H:%M:%S', 'now') from pattern;
create trigger found_cloth_in after insert on cloth begin
  insert into thing (kind, ref, title, words, away, used_at)
    values ('cloth', new.id, new.name, new.kind || ' ' || (select coalesce(group_concat(atom, ' '), '') from json_tree(new.facts) where type = 'text'), new.put_away, strftime('%Y-%m-%dT%H:%M:%S', 'now'))
    on conflict (kind, ref) do update set title = excluded.title, words = excluded.words, away = excluded.away, used_at = excluded.used_at;
end;
create trigger found_cloth_new after update on cloth begin
  insert into thing (kind, ref, title, words, away, used_at)
    values ('cloth', new.id, new.name, new.kind || ' ' || (select coalesce(group_concat(atom, ' '), '') from json_tree(new.facts) where type = 'text'), new.put_away, strftime('%Y-%m-%dT%H:%M:%S', 'now'))
    on conflict (kind, ref) do update set title = excluded.title, words = excluded.words, away = excluded.away, used_at = excluded.used_at;
end;
create trigger found_cloth_out after delete on cloth begin
  delete from thing where kind = 'cloth' and ref = old.id;
end;
insert into thing (kind, ref, title, words, away, used_at)
  select 'cloth', cloth.id, cloth.name, cloth.kind || ' ' || (select coalesce(group_concat(atom, ' '), '') from json_tree(cloth.facts) where type = 'text'), cloth.put_away, strftime('%Y-%m-%dT%H:%M:%S', 'now') from cloth;
create trigger found_person_in after insert on person begin
  insert into thing (kind, ref, title, words, away, used_at)
    values ('person', new.id, new.name, new.note, new.put_away, strftime('%Y-%m-%dT%H:%M:%S', 'now'))
    on conflict (kind, ref) do update set title = excluded.title, words = excluded.words, away = excluded.away, used_at = excluded.used_at;
end;
create trigger found_person_new after update on person begin
  insert into thing (kind, ref, title, words, away, used_at)
    values ('person', new.id, new.name, new.note, new.put_away, strftime('%Y-%m-%dT%H:%M:%S', 'now'))
    on conflict (kind, ref) do update set title = excluded.title, words = excluded.words, away = excluded.away, used_at = excluded.used_at;
end;
create trigger found_person_out after delete on person begin
  delete from thing where kind = 'person' and ref = old.id;
end;
insert into thing (kind, ref, title, words, away, used_at)
  select 'person', person.id, person.name, person.note, person.put_away, strftime('%Y-%m-%dT%H:%M:%S', 'now') from person;
create trigger found_supply_in after insert on supply begin
  insert into thing (kind, ref, title, words, away, used_at)
    values ('supply', new.id, new.name, new.kind || ' ' || (select coalesce(group_concat(atom, ' '), '') from json_tree(new.facts) where type = 'text'), new.put_away, strftime('%Y-%m-%dT%H:%M:%S', 'now'))
    on conflict (kind, ref) do update set title = excluded.title, words = excluded.words, away = excluded.away, used_at = excluded.used_at;
end;
create trigger found_supply_new after update on supply begin
  insert into thing (kind, ref, title, words, away, used_at)
    values ('supply', new.id, new.name, new.kind || ' ' || (select coalesce(group_concat(atom, ' '), '') from json_tree(new.facts) where type = 'text'), new.put_away, strftime('%Y-%m-%dT%H:%M:%S', 'now'))
    on conflict (kind, ref) do update set title = excluded.title, words = excluded.words, away = excluded.away, used_at = excluded.used_at;
end;
create trigger found_supply_out after delete on supply begin
  delete from thing where kind = 'supply' and ref = old.id;
end;
insert into thing (kind, ref, title, words, away, used_at)
  select 'supply', supply.id, supply.name, supply.kind || ' ' || (select coalesce(group_concat(atom, ' '), '') from json_tree(supply.facts) where type = 'text'), supply.put_away, strftime('%Y-%m-%dT%H:%M:%S', 'now') from supply;
create trigger found_shop_in after insert on shop begin
  insert into thing (kind, ref, title, words, away, used_at)
    values ('shop', new.id, new.name, (select coalesce(group_concat(atom, ' '), '') from json_tree(new.facts) where type = 'text'), new.put_away, strftime('%Y-%m-%dT%H:%M:%S', 'now'))
    on conflict (kind, ref) do update set title = excluded.title, words = excluded.words, away = excluded.away, used_at = excluded.used_at;
end;
create trigger found_shop_new after update on shop begin
  insert into thing (kind, ref, title, words, away, used_at)
    values ('shop', new.id, new.name, (select coalesce(group_concat(atom, ' '), '') from json_tree(new.facts) where type = 'text'), new.put_away, strftime('%Y-%m-%dT%H:%M:%S', 'now'))
    on conflict (kind, ref) do update set title = excluded.title, words = excluded.words, away = excluded.away, used_at = excluded.used_at;
end;
create trigger found_shop_out after delete on shop begin
  delete from thing where kind = 'shop' and ref = old.id;
end;
insert into thing (kind, ref, title, words, away, used_at)
  select 'shop', shop.id, shop.name, (select coalesce(group_concat(atom, ' '), '') from json_tree(shop.facts) where type = 'text'), shop.put_away, strftime('%Y-%m-%dT%H:%M:%S', 'now') from shop;
create trigger found_note_in after insert on note begin
  insert into thing (kind, ref, title, words, away, used_at)
    values ('note', new.id, substr(new.text, 1, 80), new.text || ' ' || coalesce((select name from make where id = new.make_id), ''), null, strftime('%Y-%m-%dT%H:%M:%S', 'now'))
    on conflict (kind, ref) do update set title = excluded.title, words = excluded.words, away = excluded.away, used_at = excluded.used_at;
end;
create trigger found_note_new after update on note begin
  insert into thing (kind, ref, title, words, away, used_at)
    values ('note', new.id, substr(new.text, 1, 80), new.text || ' ' || coalesce((select name from make where id = new.make_id), ''), null, strftime('%Y-%m-%dT%H:%M:%S', 'now'))
    on conflict (kind, ref) do update set title = excluded.title, words = excluded.words, away = excluded.away, used_at = excluded.used_at;
end;
create trigger found_note_out after delete on note begin
  delete from thing where kind = 'note' and ref = old.id;
end;
insert into thing (kind, ref, title, words, away, used_at)
  select 'note', note.id, substr(note.text, 1, 80), note.text || ' ' || coalesce((select name from make where id = note.make_id), ''), null, strftime('%Y-%m-%dT%H:%M:%S', 'now') from note;
-- What a make takes was used just now.
create trigger used_cloth after insert on make_cloth begin
  update thing set used_at = strftime('%Y-%m-%dT%H:%M:%S', 'now') where kind = 'cloth' and ref = new.cloth_id;
end;
create trigger used_pattern after insert on make begin
  update thing set used_at = strftime('%Y-%m-%dT%H:%M:%S', 'now') where kind = 'pattern' and ref = new.pattern_id;
end;
create trigger used_person after insert on make_garment when new.person_id is not null begin
  update thing set used_at = strftime('%Y-%m-%dT%H:%M:%S', 'now') where kind = 'person' and ref = new.person_id;
end;
pragma user_version = 8;
commit;
