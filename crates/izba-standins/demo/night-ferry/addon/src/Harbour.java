package ferry;

/** The harbour of the north bank: one pier, and berths along it. */
public final class Harbour {
    private Pier pier;
    private int berths;

    Harbour() {
        berths = pier.length() / 8;
        pier = new Pier(40);
    }

    String open() {
        return "open, " + berths + " berths";
    }
}
