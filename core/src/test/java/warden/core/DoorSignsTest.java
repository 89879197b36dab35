package warden.core;

import static org.assertj.core.api.Assertions.assertThat;

import com.tngtech.archunit.core.domain.JavaClass;
import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.domain.JavaPackage;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** Each room says what lives there and who may enter; the neutral ones say which rooms they enter, and it is so. */
class DoorSignsTest {
    private static final Path SOURCES = Path.of("src/main/java");
    private static final Pattern ENTERS = Pattern.compile("It enters (?:no other room|the rooms? ([a-z, ]+))\\.");
    private static final JavaClasses CODE = new ClassFileImporter()
            .withImportOption(new ImportOption.DoNotIncludeTests())
            .importPackages("warden.core");

    private static List<Path> rooms() throws IOException {
        try (Stream<Path> all = Files.walk(SOURCES)) {
            return all.filter(Files::isDirectory)
                    .filter(folder -> {
                        try (Stream<Path> files = Files.list(folder)) {
                            return files.anyMatch(file -> file.toString().endsWith(".java"));
                        } catch (IOException unreadable) {
                            throw new IllegalStateException(unreadable);
                        }
                    })
                    .sorted()
                    .toList();
        }
    }

    private static String sign(Path room) throws IOException {
        return Files.readString(room.resolve("package-info.java")).replaceAll("\\s*\\n \\*\\s*", " ");
    }

    private static boolean isNeutral(String name) {
        return !name.equals("warden.core")
                && Providers.ALL.stream().noneMatch(provider -> name.startsWith("warden.core." + provider.name()));
    }

    @Test
    void eachRoomHasASignThatSaysWhoMayEnter() throws IOException {
        assertThat(rooms())
                .isNotEmpty()
                .allSatisfy(room -> assertThat(sign(room)).as(room.toString()).contains("Who may enter"));
    }

    @Test
    void whatTheSignsOfNeutralRoomsSayTheyEnterIsSo() throws IOException {
        for (Path room : rooms()) {
            String name = SOURCES.relativize(room).toString().replace('/', '.');
            if (!isNeutral(name)) {
                continue;
            }
            Matcher sign = ENTERS.matcher(sign(room));
            assertThat(sign.find()).as(name + " says which rooms it enters").isTrue();
            Set<String> said =
                    sign.group(1) == null ? Set.of() : Set.of(sign.group(1).split(", "));
            assertThat(entered(CODE.getPackage(name))).as(name).isEqualTo(new TreeSet<>(said));
        }
    }

    /** Returns the rooms whose classes those of a room depend on; a room within another may use that one. */
    private static Set<String> entered(JavaPackage room) {
        String own = outer(room.getName());
        return room.getClasses().stream()
                .flatMap(type -> type.getDirectDependenciesFromSelf().stream())
                .map(dependency -> dependency.getTargetClass().getBaseComponentType())
                .map(JavaClass::getPackageName)
                .filter(name -> name.startsWith("warden.core."))
                .map(DoorSignsTest::outer)
                .filter(name -> !name.equals(own))
                .collect(Collectors.toCollection(TreeSet::new));
    }

    private static String outer(String name) {
        String within = name.substring("warden.core.".length());
        return within.contains(".") ? within.substring(0, within.indexOf('.')) : within;
    }
}
