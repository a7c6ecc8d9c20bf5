// Prints the names that come with Java: types of java.lang and the usual packages, and their public
// members.
import java.lang.reflect.Member;
import java.lang.reflect.Modifier;
import java.util.TreeSet;

public class Names {
    static final String[] LANG = ("Object String StringBuilder Math Integer Long Double Float Boolean"
        + " Character Byte Short Number Thread Runnable System Exception RuntimeException Error"
        + " Throwable IllegalArgumentException IllegalStateException NullPointerException"
        + " IndexOutOfBoundsException ArrayIndexOutOfBoundsException ClassCastException"
        + " ArithmeticException NumberFormatException UnsupportedOperationException"
        + " InterruptedException CloneNotSupportedException StackTraceElement Iterable Comparable"
        + " Enum Record Class Process ProcessBuilder Runtime Override Deprecated FunctionalInterface"
        + " SuppressWarnings").split(" ");
    static final String[] USUAL = ("java.util.List java.util.ArrayList java.util.LinkedList"
        + " java.util.Map java.util.HashMap java.util.TreeMap java.util.LinkedHashMap java.util.Set"
        + " java.util.HashSet java.util.TreeSet java.util.LinkedHashSet java.util.Queue"
        + " java.util.Deque java.util.ArrayDeque java.util.PriorityQueue java.util.Stack"
        + " java.util.Vector java.util.Iterator java.util.ListIterator java.util.Collection"
        + " java.util.Collections java.util.Arrays java.util.Optional java.util.Random"
        + " java.util.Scanner java.util.Objects java.util.Properties java.util.Locale java.util.UUID"
        + " java.util.Comparator java.util.Timer java.util.TimerTask java.util.Date"
        + " java.util.NoSuchElementException java.util.ConcurrentModificationException"
        + " java.util.function.Function java.util.function.BiFunction java.util.function.Supplier"
        + " java.util.function.Consumer java.util.function.Predicate java.util.stream.Stream"
        + " java.util.stream.Collectors java.util.stream.IntStream"
        + " java.util.concurrent.ExecutorService java.util.concurrent.Executors"
        + " java.util.concurrent.TimeUnit java.util.concurrent.ConcurrentHashMap"
        + " java.util.concurrent.CompletableFuture java.util.logging.Logger java.util.logging.Level"
        + " java.util.Map$Entry java.io.File java.io.IOException java.io.FileNotFoundException"
        + " java.io.BufferedReader java.io.BufferedWriter java.io.FileReader java.io.FileWriter"
        + " java.io.InputStream java.io.OutputStream java.io.InputStreamReader java.io.PrintStream"
        + " java.io.PrintWriter java.io.UncheckedIOException java.nio.file.Files java.nio.file.Path"
        + " java.nio.file.Paths java.nio.charset.StandardCharsets java.time.LocalDate"
        + " java.time.LocalTime java.time.LocalDateTime java.time.Duration java.time.Instant"
        + " java.math.BigDecimal java.math.BigInteger").split(" ");

    static void members(Class<?> type, TreeSet<String> into) {
        for (Member m : type.getMethods()) into.add(m.getName());
        for (Member m : type.getFields())
            if (Modifier.isPublic(m.getModifiers())) into.add(m.getName());
    }

    public static void main(String[] args) throws Exception {
        TreeSet<String> members = new TreeSet<>();
        TreeSet<String> builtins = new TreeSet<>();
        TreeSet<String> modules = new TreeSet<>();
        for (String name : LANG) {
            builtins.add(name);
            members(Class.forName("java.lang." + name), members);
        }
        for (String name : USUAL) {
            Class<?> type = Class.forName(name);
            modules.add(type.getSimpleName());
            members(type, members);
        }
        for (String n : builtins) System.out.println("builtins " + n);
        members.add("length");
        members.add("main");
        for (String n : members) if (n.matches("[A-Za-z]\\w*")) System.out.println("members " + n);
        for (String n : modules) System.out.println("modules " + n);
    }
}
