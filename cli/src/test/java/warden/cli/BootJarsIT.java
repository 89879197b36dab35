package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.tngtech.archunit.core.domain.JavaClass;
import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import java.io.IOException;
import java.nio.file.FileSystems;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.TreeSet;
import java.util.jar.JarFile;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/**
 * The launcher gives some jars to the JVM's own loader, which sees neither the other jars nor the modules that the platform's loader holds: a
 * class of them that named one would fail when it is run.
 */
class BootJarsIT {
    private static final Path LIBRARIES = Path.of("target/lib");

    /** Returns the patterns of the jars' names that the launcher gives to that loader. */
    private static List<String> patterns() throws IOException {
        Matcher choice = Pattern.compile("([^\\n]+\\.jar)\\)\\s+boot=")
                .matcher(Files.readString(Path.of("src/main/dist/lib/start.sh")));
        assertThat(choice.find()).isTrue();
        return Stream.of(choice.group(1).split("\\|")).map(String::strip).toList();
    }

    private static List<Path> named(String pattern) throws IOException {
        try (Stream<Path> jars = Files.list(LIBRARIES)) {
            return jars.filter(jar -> FileSystems.getDefault()
                            .getPathMatcher("glob:" + pattern)
                            .matches(jar.getFileName()))
                    .toList();
        }
    }

    private static List<Path> jars() throws IOException {
        List<Path> jars = new ArrayList<>();
        for (String pattern : patterns()) {
            List<Path> named = named(pattern);
            assertThat(named).as(pattern).hasSize(1);
            jars.addAll(named);
        }
        return jars;
    }

    private static boolean isOfTheJvmsLoader(JavaClass named) {
        try {
            return named.isPrimitive() || Class.forName(named.getName(), false, null) != null;
        } catch (ClassNotFoundException other) {
            return false;
        }
    }

    @Test
    void nameNothingThatTheirLoaderDoesNotSee() throws Exception {
        List<JarFile> jars = new ArrayList<>();
        for (Path jar : jars()) {
            jars.add(new JarFile(jar.toFile()));
        }
        JavaClasses theirs = new ClassFileImporter().importJars(jars);
        assertThat(theirs).hasSizeGreaterThan(2_000);
        TreeSet<String> others = new TreeSet<>();
        for (JavaClass one : theirs) {
            one.getDirectDependenciesFromSelf().forEach(dependency -> {
                JavaClass named = dependency.getTargetClass().getBaseComponentType();
                if (!theirs.contain(named.getName()) && !isOfTheJvmsLoader(named)) {
                    others.add(one.getName() + " names " + named.getName());
                }
            });
        }
        assertThat(others).isEmpty();
    }
}
