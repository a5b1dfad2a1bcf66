-- The firm: one document, of which new jobs take their rules, prices and rates.
CREATE TABLE firm (
  only INTEGER PRIMARY KEY CHECK (only = 1),
  revision INTEGER NOT NULL,
  body TEXT NOT NULL
);
