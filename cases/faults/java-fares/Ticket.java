public class Ticket {
    final String owner;
    final Zone zone;
    final int people;

    Ticket(String owner, Zone zone, int people) {
        this.owner = owner;
        this.zone = zone;
        this.people = people;
    }

    String label() {
        return owner.trim() + " (" + zone.name().toLowerCase() + ")";
    }
}
