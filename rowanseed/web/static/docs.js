window.addEventListener("DOMContentLoaded", () => {
  SwaggerUIBundle({ url: "/openapi.json", dom_id: "#api", deepLinking: true, validatorUrl: null });
});
