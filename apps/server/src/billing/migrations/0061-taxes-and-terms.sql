-- Tax by kind of line, in which order money goes to what a bill is made of, and what bills of one matter or client bear and show.
ALTER TABLE firm ADD COLUMN IF NOT EXISTS tax_soft_basis_points INT NULL CHECK (tax_soft_basis_points BETWEEN 0 AND 10000),
  ADD COLUMN IF NOT EXISTS tax_hard_basis_points INT NULL CHECK (tax_hard_basis_points BETWEEN 0 AND 10000),
  ADD COLUMN IF NOT EXISTS payment_order VARCHAR(40) NOT NULL DEFAULT 'costs,interest,tax,fees';
-- What was one rate was that of fees and the firm's own costs.
ALTER TABLE pre_bill ADD COLUMN IF NOT EXISTS tax_soft_basis_points INT NULL,
  ADD COLUMN IF NOT EXISTS tax_hard_basis_points INT NULL;
-- The rate that a line bore, or that a tax is of; none on bills of before, whose pre-bill tells it.
ALTER TABLE bill_line ADD COLUMN IF NOT EXISTS tax_basis_points INT NULL;
ALTER TABLE bill_terms ADD COLUMN IF NOT EXISTS discount_basis_points SMALLINT NULL,
  ADD COLUMN IF NOT EXISTS tax_fees SMALLINT NULL,
  ADD COLUMN IF NOT EXISTS tax_soft_costs SMALLINT NULL,
  ADD COLUMN IF NOT EXISTS tax_hard_costs SMALLINT NULL,
  ADD COLUMN IF NOT EXISTS language ENUM('en','es') NULL,
  ADD COLUMN IF NOT EXISTS bill_group ENUM('none','person','day','activity') NULL,
  ADD COLUMN IF NOT EXISTS bill_summary BOOLEAN NULL,
  ADD COLUMN IF NOT EXISTS bill_trust BOOLEAN NULL,
  ADD COLUMN IF NOT EXISTS bill_slip BOOLEAN NULL
