-- The outlines of units on a map. The newest row of a unit holds; without a geometry it has none.
CREATE TABLE unit_outline (
  seq      bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  unit     text NOT NULL REFERENCES unit (code),
  -- A Polygon or MultiPolygon of GeoJSON (RFC 7946).
  geometry jsonb,
  at       timestamptz NOT NULL,
  person   uuid REFERENCES person (id)
);
CREATE INDEX unit_outline_unit ON unit_outline (unit, seq);
