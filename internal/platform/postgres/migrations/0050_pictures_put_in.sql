-- +goose Up
-- Pictures that were put into a document that programs write as well, until its file holds them; sealed.
CREATE TABLE writing_pictures (
  document_id uuid NOT NULL REFERENCES writings ON DELETE CASCADE,
  name text NOT NULL,
  media_type text NOT NULL,
  size integer NOT NULL CHECK (size > 0),
  picture bytea NOT NULL,
  put_at timestamptz NOT NULL,
  PRIMARY KEY (document_id, name)
);

-- +goose Down
DROP TABLE writing_pictures;
