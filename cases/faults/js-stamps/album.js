class Page {
  constructor(title, from, rows) {
    this.title = title;
    this.from = from;
    this.slots = new Array(rows).fill(null);
  }

  place(row, stamp) {
    this.slots[row] = stamp;
  }

  filled() {
    return this.slots.filter((stamp) => stamp !== null);
  }

  names() {
    return this.filled().map((stamp) => stamp.name.trim());
  }
}

class Album {
  constructor(title, pages) {
    this.title = title;
    this.pages = pages.map((page) => new Page(page.title, page.from, page.rows));
  }

  pageFor(year) {
    let found = null;
    for (const page of this.pages) {
      if (page.from <= year) {
        found = page;
      }
    }
    return found;
  }

  worth(prices) {
    let sum = 0;
    for (const page of this.pages) {
      for (const stamp of page.filled()) {
        sum += prices[stamp.kind].each * stamp.count;
      }
    }
    return sum;
  }
}

module.exports = { Album, Page };
