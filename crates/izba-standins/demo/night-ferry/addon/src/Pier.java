package ferry;

/** A pier of so many metres. */
final class Pier {
    private final int metres;

    Pier(int metres) {
        this.metres = metres;
    }

    int length() {
        return metres;
    }
}
