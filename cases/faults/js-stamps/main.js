const { Album } = require('./album');
const sheets = require('./sheets');

const album = new Album('ferries', sheets.pages);

function collect(list) {
  for (const stamp of list) {
    const page = album.pageFor(stamp.year);
    page.place(stamp.row, stamp);
  }
}

collect(sheets.stamps);

for (const page of album.pages) {
  console.log(page.title + ': ' + page.names().join(', '));
}
console.log('worth ' + album.worth(sheets.prices).toFixed(2));
