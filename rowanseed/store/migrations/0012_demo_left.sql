-- Every page asks whether demo data is left; an index of the demo's rows alone answers without reading the tables.
begin;
create index make_demo on make (demo) where demo = 1;
create index pattern_demo on pattern (demo) where demo = 1;
create index cloth_demo on cloth (demo) where demo = 1;
create index person_demo on person (demo) where demo = 1;
pragma user_version = 12;
commit;
