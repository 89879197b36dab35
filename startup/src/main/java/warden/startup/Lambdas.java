package warden.startup;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;

/**
 * Gives the lambdas of compiled classes classes of their own, when the program is built. The JVM would make them each time the program runs, one
 * by one when they are first met, and that took a third of what a command takes.
 */
public final class Lambdas {
    private Lambdas() {}

    /** Works on the folders of classes that are named; those that are not there are passed over. */
    public static void main(String[] folders) throws IOException {
        for (String folder : folders) {
            if (Files.isDirectory(Path.of(folder))) {
                removeLeftOver(classes(Path.of(folder)));
                new Nests(classes(Path.of(folder))).write();
            }
        }
    }

    /** What was made for a class that is gone, or has moved, goes with it: the compiler knows of its own classes only. */
    private static void removeLeftOver(List<Path> classes) throws IOException {
        for (Path made : classes) {
            String name = made.getFileName().toString();
            int mark = name.indexOf("$$Lambda");
            if (mark > 0 && !Files.exists(made.resolveSibling(name.substring(0, mark) + ".class"))) {
                Files.delete(made);
            }
        }
    }

    private static List<Path> classes(Path folder) throws IOException {
        try (Stream<Path> files = Files.walk(folder)) {
            return files.filter(file -> file.toString().endsWith(".class"))
                    .sorted()
                    .toList();
        } catch (UncheckedIOException broken) {
            throw broken.getCause();
        }
    }
}
