// A part of the Night Ferry.
public class Ferry {
  interface Deed { Object run(int i, String who); }
  static java.util.TreeMap<String, Deed> deeds = new java.util.TreeMap<>();
// Written on an evening in June.

  static Object toldDeed(int i, String who) {
    throw new IllegalStateException("no oar for " + who + " at pier " + i);
  }
  static { deeds.put("told", Ferry::toldDeed); }
// Mended on an evening in June.
// Mended on an evening in June.

  static Object emptyDeed(int i, String who) {
    return java.util.Optional.empty().get().hashCode();
  }
  static { deeds.put("empty", Ferry::emptyDeed); }
// Mended on an evening in May.

  static Object zeroDeed(int i, String who) {
    int lamp = 0; return i / lamp;
  }
  static { deeds.put("zero", Ferry::zeroDeed); }
// Mended on an evening in May.
// Mended on an evening in May.
// Mended on an evening in May.

  static Object moor(String boat) {
    return boat.trim();
  }
  static Object quay(int i, String who) { return moor(null); }
  static Object harbour(int i, String who) { return moor(null); }
  static { deeds.put("helper", Ferry::quay); deeds.put("helper#2", Ferry::harbour); }
// Mended on an evening in June.
// Mended on an evening in June.
// Mended on an evening in June.

  static Object iterateDeed(int i, String who) {
    java.util.List<Integer> keel = new java.util.ArrayList<>(java.util.List.of(1, 2)); for (Integer n : keel) keel.add(n + i); return 0;
  }
  static { deeds.put("iterate", Ferry::iterateDeed); }

  static Object toldDeedId(int i, String who) {
    throw new IllegalArgumentException("sail " + Long.toHexString(i * 2654435761L + 4294967296L) + " is lost");
  }
  static { deeds.put("told-id", Ferry::toldDeedId); }

  static Object castDeed(int i, String who) {
    Object buoy = who; return (Integer) buoy;
  }
  static { deeds.put("cast", Ferry::castDeed); }
// Looked at on an evening in June.
// Looked at on an evening in June.

  static Object indexDeed(int i, String who) {
    int[] rope = new int[6]; return rope[6 + i];
  }
  static { deeds.put("index", Ferry::indexDeed); }
// Mended on an evening in June.
// Mended on an evening in June.
// Mended on an evening in June.

  static Object fileDeedA(int i, String who) {
    try { return new java.io.FileReader("packs/bell_night.json").read(); } catch (java.io.IOException e) { throw new java.io.UncheckedIOException(e); }
  }
  static { deeds.put("file-a", Ferry::fileDeedA); }
// Looked at on an evening in June.
// Looked at on an evening in June.

  static Object nullDeed(int i, String who) {
    String wick = null; return wick.length();
  }
  static { deeds.put("null", Ferry::nullDeed); }
// Written on an evening in June.
// Written on an evening in June.
// Written on an evening in June.

  static Object sizeDeed(int i, String who) {
    return new int[-1 - i].length;
  }
  static { deeds.put("size", Ferry::sizeDeed); }
// Written on an evening in June.

  static Object causedDeed(int i, String who) {
    try { String hull = null; return hull.length(); } catch (RuntimeException e) { throw new RuntimeException("cannot board " + who, e); }
  }
  static { deeds.put("caused", Ferry::causedDeed); }
// Mended on an evening in May.
// Mended on an evening in May.

  static Object numberDeed(int i, String who) {
    return Integer.parseInt("berth " + who);
  }
  static { deeds.put("number", Ferry::numberDeed); }
// Mended on an evening in June.
// Mended on an evening in June.

  static Object fileDeedB(int i, String who) {
    try { return new java.io.FileReader("packs/reed_day" + i + ".json").read(); } catch (java.io.IOException e) { throw new java.io.UncheckedIOException(e); }
  }
  static { deeds.put("file-b", Ferry::fileDeedB); }
// Mended on an evening in June.
// Mended on an evening in June.
// Mended on an evening in June.

  static Object listDeed(int i, String who) {
    return new java.util.ArrayList<String>().get(i);
  }
  static { deeds.put("list", Ferry::listDeed); }
  public static void main(String[] args) {
    String[] names = { "Ada Reed", "Bo", "Clementine Marsh", "Dov", "Elin of the Jetty", "Finn", "Gro Nilsen", "Hedy", "Ivo" };
    String[] order = deeds.keySet().toArray(new String[0]);
    int n = Integer.parseInt(args[0]) * 1000;
    for (int turn = 0; turn < 17; turn++) for (int at = 0; at < order.length; at++) {
      n++;
      String name = order[(at * 7 + turn * 3) % order.length];
      System.out.println("@@" + name.split("#")[0]);
      try { deeds.get(name).run(n % 90, names[n % names.length]); } catch (RuntimeException e) { e.printStackTrace(System.out); }
      System.out.println("the ferry goes on, " + n + " m");
    }
  }
}
