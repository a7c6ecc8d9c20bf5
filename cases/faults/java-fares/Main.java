public class Main {
    public static void main(String[] args) {
        Table table = new Table();
        table.add(Zone.NEAR, 2);
        table.add(Zone.MIDDLE, 4);
        table.add(Zone.FAR, 7);
        Ticket[] tickets = new Ticket[3];
        tickets[0] = new Ticket("Ulla", Zone.NEAR, 1);
        tickets[1] = new Ticket("Vic", Zone.FAR, 3);
        tickets[2] = new Ticket("Wim", Zone.MIDDLE, 2);
        Till till = new Till(table);
        for (Ticket ticket : tickets) {
            System.out.println(till.sell(ticket));
        }
        System.out.println("taken " + till.taken());
    }
}
