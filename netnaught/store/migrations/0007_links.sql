-- How one entry came of another: it takes it back, or stands in its place.
CREATE TABLE entry_link (
    company_id INTEGER NOT NULL,
    book_entry_id INTEGER NOT NULL,
    of_entry_id INTEGER NOT NULL,
    kind TEXT NOT NULL CHECK (kind IN ('reverses', 'replaces')),
    reason TEXT NOT NULL,
    PRIMARY KEY (book_entry_id, of_entry_id),
    FOREIGN KEY (company_id, book_entry_id) REFERENCES book_entry (company_id, id),
    FOREIGN KEY (company_id, of_entry_id) REFERENCES book_entry (company_id, id)
) STRICT, WITHOUT ROWID;
CREATE INDEX entry_link_of ON entry_link (of_entry_id);
