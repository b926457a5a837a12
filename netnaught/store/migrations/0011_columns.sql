-- How the columns of tables were pointed out: of a bank book per account, of a chart or a ledger's detail per company.
CREATE TABLE told_columns (
    id INTEGER PRIMARY KEY,
    company_id INTEGER NOT NULL REFERENCES company (id),
    bank_account_id INTEGER,
    kind TEXT NOT NULL CHECK (kind IN ('book', 'chart', 'detail')),
    heading TEXT NOT NULL,
    content TEXT NOT NULL CHECK (json_valid(content)),
    CHECK ((kind = 'book') = (bank_account_id IS NOT NULL)),
    FOREIGN KEY (company_id, bank_account_id) REFERENCES bank_account (company_id, id)
) STRICT;
CREATE UNIQUE INDEX told_columns_once ON told_columns (company_id, kind, coalesce(bank_account_id, 0), heading);

INSERT INTO told_columns (company_id, bank_account_id, kind, heading, content)
SELECT company_id, bank_account_id, 'book', heading, content FROM book_columns;
DROP TABLE book_columns;
