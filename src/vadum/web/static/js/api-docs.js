// What computes for other programs first, then all that pages are made of; paths that begin alike together.
SwaggerUIBundle({
  url: "/api/openapi.json",
  dom_id: "#api",
  validatorUrl: null,
  tagsSorter: (a, b) => (a === "default") - (b === "default") || a.localeCompare(b),
  operationsSorter: "alpha",
});
