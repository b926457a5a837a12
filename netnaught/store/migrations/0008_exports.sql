-- Journals handed to books kept elsewhere: each exactly once, the batch to be had again.
CREATE TABLE export_batch (
    id INTEGER PRIMARY KEY,
    company_id INTEGER NOT NULL REFERENCES company (id),
    start_date TEXT NOT NULL CHECK (start_date IS date(start_date, '+0 days')),
    end_date TEXT NOT NULL CHECK (end_date IS date(end_date, '+0 days')),
    created_by INTEGER NOT NULL REFERENCES user (id),
    created_at TEXT NOT NULL,
    UNIQUE (company_id, id)
) STRICT;
CREATE TABLE exported_journal (
    company_id INTEGER NOT NULL,
    journal_entry_id INTEGER NOT NULL PRIMARY KEY,
    batch_id INTEGER NOT NULL,
    FOREIGN KEY (company_id, journal_entry_id) REFERENCES journal_entry (company_id, id),
    FOREIGN KEY (company_id, batch_id) REFERENCES export_batch (company_id, id)
) STRICT, WITHOUT ROWID;
