-- Steps that go on under another name: what is ticked stays ticked.
begin;
create temp table renamed (old text not null, new text not null);
insert into renamed values
  ('close-sleeves', 'sew-sleeve-seams'),
  ('join-two-piece-sleeve', 'sew-two-piece-sleeve'),
  ('close-two-piece-sleeve', 'sew-back-sleeve-seam'),
  ('french-first-pass', 'sew-side-seams'),
  ('turn-french-seams', 'trim-french-side-seams'),
  ('trim-french', 'trim-french-shoulders'),
  ('french-shoulders', 'sew-shoulders'),
  ('hem-before-pleating', 'sew-hem'),
  ('join-lining-edges', 'join-lining-facing'),
  ('lining-sleeves', 'set-lining-sleeves@lining.sleeve'),
  ('sew-shell-to-lining-armholes', 'join-lining-edges'),
  ('assemble-lining', 'sew-shoulders@lining.body'),
  ('assemble-lining', 'sew-side-seams@lining.body'),
  ('assemble-lining', 'sew-side-seams@lining.skirt'),
  ('press-lining', 'press-shoulders@lining.body'),
  ('press-lining', 'press-side-seams@lining.body'),
  ('press-lining', 'press-side-seams@lining.skirt'),
  ('attach-free-lining', 'attach-waist-lining');
insert into tick (make_id, list, item, at)
  select make_id, list, new, at from tick join renamed on item = old where list = 'sew'
  on conflict do nothing;
drop table renamed;
pragma user_version = 6;
commit;
