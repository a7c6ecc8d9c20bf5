// A part of the Night Ferry.
public class Ferry {
  interface Deed { Object run(int i, String who); }
  static java.util.TreeMap<String, Deed> deeds = new java.util.TreeMap<>();

  static Object nullDeed(int i, String who) {
    String ticket = null; return ticket.length();
  }
  static { deeds.put("null", Ferry::nullDeed); }

  static Object indexDeed(int i, String who) {
    int[] fare = new int[6]; return fare[6 + i];
  }
  static { deeds.put("index", Ferry::indexDeed); }

  static Object listDeed(int i, String who) {
    return new java.util.ArrayList<String>().get(i);
  }
  static { deeds.put("list", Ferry::listDeed); }

  static Object castDeed(int i, String who) {
    Object seat = who; return (Integer) seat;
  }
  static { deeds.put("cast", Ferry::castDeed); }

  static Object numberDeed(int i, String who) {
    return Integer.parseInt("stamp " + who);
  }
  static { deeds.put("number", Ferry::numberDeed); }

  static Object toldDeed(int i, String who) {
    throw new IllegalStateException("no quay for " + who + " at pier " + i);
  }
  static { deeds.put("told", Ferry::toldDeed); }

  static Object toldDeedId(int i, String who) {
    throw new IllegalArgumentException("crew " + Long.toHexString(i * 2654435761L + 4294967296L) + " is lost");
  }
  static { deeds.put("told-id", Ferry::toldDeedId); }

  static Object zeroDeed(int i, String who) {
    int dock = 0; return i / dock;
  }
  static { deeds.put("zero", Ferry::zeroDeed); }

  static Object fileDeedA(int i, String who) {
    try { return new java.io.FileReader("packs/cargo_night.json").read(); } catch (java.io.IOException e) { throw new java.io.UncheckedIOException(e); }
  }
  static { deeds.put("file-a", Ferry::fileDeedA); }

  static Object fileDeedB(int i, String who) {
    try { return new java.io.FileReader("packs/deck_day" + i + ".json").read(); } catch (java.io.IOException e) { throw new java.io.UncheckedIOException(e); }
  }
  static { deeds.put("file-b", Ferry::fileDeedB); }

  static Object causedDeed(int i, String who) {
    try { String chart = null; return chart.length(); } catch (RuntimeException e) { throw new RuntimeException("cannot board " + who, e); }
  }
  static { deeds.put("caused", Ferry::causedDeed); }

  static Object emptyDeed(int i, String who) {
    return java.util.Optional.empty().get().hashCode();
  }
  static { deeds.put("empty", Ferry::emptyDeed); }

  static Object iterateDeed(int i, String who) {
    java.util.List<Integer> moon = new java.util.ArrayList<>(java.util.List.of(1, 2)); for (Integer n : moon) moon.add(n + i); return 0;
  }
  static { deeds.put("iterate", Ferry::iterateDeed); }

  static Object sizeDeed(int i, String who) {
    return new int[-1 - i].length;
  }
  static { deeds.put("size", Ferry::sizeDeed); }

  static Object moor(String boat) {
    return boat.trim();
  }
  static Object quay(int i, String who) { return moor(null); }
  static Object harbour(int i, String who) { return moor(null); }
  static { deeds.put("helper", Ferry::quay); deeds.put("helper#2", Ferry::harbour); }
  public static void main(String[] args) {
    String[] names = { "Ada Reed", "Bo", "Clementine Marsh", "Dov", "Elin of the Jetty", "Finn", "Gro Nilsen", "Hedy", "Ivo" };
    String[] order = deeds.keySet().toArray(new String[0]);
    int n = Integer.parseInt(args[0]) * 1000;
    for (int turn = 0; turn < 17; turn++) for (int at = 0; at < order.length; at++) {
      n++;
      String name = order[(at * 7 + turn * 3) % order.length];
      System.out.println("@@" + name.split("#")[0]);
      try { deeds.get(name).run(n % 90, names[n % names.length]); } catch (RuntimeException e) { System.out.printf("%02d:%02d:%02d.%03d [main] ERROR night.Ferry - a deed failed%n", n % 24, n % 60, n % 59, n % 1000); e.printStackTrace(System.out); }
      System.out.println("the ferry goes on, " + n + " m");
    }
  }
}
