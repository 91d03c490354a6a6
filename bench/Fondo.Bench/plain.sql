-- What a skilled person would put together with a database prompt: import both sides, join on the reference,
-- then on approval code, last four and amount; list the leftovers; add up each register and tender.
.bail on
PRAGMA journal_mode=OFF;
PRAGMA synchronous=OFF;
.mode csv
.import batches.csv batch
.mode ascii
.separator "\037" "\n"
CREATE TABLE line(text TEXT);
.import journal.jsonl line
CREATE TABLE event AS SELECT json_extract(text,'$.id') AS id, json_extract(text,'$.register') AS register, json_extract(text,'$.kind') AS kind,
  json_extract(text,'$.original') AS original, json_extract(text,'$.tenders') AS tenders FROM line;
CREATE TABLE tender AS SELECT e.id||'#'||(t.key+1) AS key, e.register, json_extract(t.value,'$.type') AS type,
  CAST(round(json_extract(t.value,'$.amount')*100) AS INTEGER) AS amount,
  CAST(round(coalesce(json_extract(t.value,'$.change'),0)*100) AS INTEGER) AS change,
  json_extract(t.value,'$.card') AS card, json_extract(t.value,'$.auth') AS auth, json_extract(t.value,'$.rrn') AS rrn
  FROM event e, json_each(e.tenders) t
  WHERE e.kind IN ('sale','refund') AND coalesce(json_extract(t.value,'$.result'),'approved')='approved'
    AND e.id NOT IN (SELECT original FROM event WHERE kind='void');
CREATE TABLE settled AS SELECT terminal||'/'||batch||'/'||seq AS key, terminal,
  CAST(round(amount*100) AS INTEGER)*(CASE type WHEN 'refund' THEN -1 ELSE 1 END) AS amount,
  brand, card, nullif(auth,'') AS auth, nullif(rrn,'') AS rrn, benefit FROM batch;
CREATE INDEX settled_rrn ON settled(rrn);
CREATE TABLE pair AS SELECT t.key AS tender, s.key AS row, 'reference' AS rule FROM tender t JOIN settled s ON s.rrn=t.rrn AND s.amount=t.amount;
CREATE INDEX pair_tender ON pair(tender);
CREATE INDEX pair_row ON pair(row);
CREATE INDEX settled_auth ON settled(auth, card, amount);
INSERT INTO pair SELECT t.key, s.key, 'approval' FROM tender t JOIN settled s ON s.auth=t.auth AND s.card=t.card AND s.amount=t.amount
  WHERE t.key NOT IN (SELECT tender FROM pair) AND s.key NOT IN (SELECT row FROM pair);
.mode list
.once pairs.txt
SELECT tender, row, rule FROM pair ORDER BY tender;
.once open.txt
SELECT 'journal', key, amount FROM tender WHERE auth IS NOT NULL AND key NOT IN (SELECT tender FROM pair)
UNION ALL SELECT 'batch', key, amount FROM settled WHERE key NOT IN (SELECT row FROM pair);
SELECT register, type, count(*), sum(amount-change) FROM tender GROUP BY register, type;
SELECT terminal, benefit, brand, count(*), sum(amount) FROM settled GROUP BY terminal, benefit, brand;
