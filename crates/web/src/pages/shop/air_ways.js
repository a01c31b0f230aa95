// The fields of the way in which the shop's air is known: a component for Alpine.

document.addEventListener("alpine:init", () => {
  Alpine.data("airWays", () => ({
    init() { this.choose(); },
    choose() {
      const chosen = this.$root.querySelector("select[name=air]").value;
      for (const way of this.$root.querySelectorAll(".air-way")) way.hidden = way.dataset.way !== chosen;
    },
  }));
});
