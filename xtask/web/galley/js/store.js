// What is kept in the browser, and what is fetched.
const Store = {
  dishes: [],
  evening: null,

  async load() {
    const [dishes, evening] = await Promise.all([
      fetch('data/dishes.json').then((r) => r.json()),
      fetch('data/evening.json').then((r) => r.json()),
    ]);
    this.dishes = dishes;
    this.evening = evening;
  },

  dish(id) {
    return this.dishes.find((d) => d.id === id);
  },

  seen() {
    return JSON.parse(localStorage.getItem('galley-seen') ?? '{"count":0}');
  },

  see() {
    const seen = this.seen();
    seen.count += 1;
    localStorage.setItem('galley-seen', JSON.stringify(seen));
    return seen.count;
  },
};
