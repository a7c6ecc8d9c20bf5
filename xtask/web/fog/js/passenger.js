// A passenger waits at a place until the boat comes by.
export class Passenger {
  constructor(name, at) {
    this.name = name;
    this.place = at;
    this.aboard = false;
  }

  greet() {
    const [first, last] = this.name.split(' ');
    return `${first.toUpperCase()} ${last.charAt(0)}.`;
  }
}
