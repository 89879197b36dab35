package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Model.OptionSpec;
import picocli.codegen.docgen.manpage.ManPageGenerator;

/** The manual pages: made from the commands themselves, and kept in {@code docs/man/man1}. */
class ManualPagesIT {
    private static final Path KEPT = Path.of("..", "docs", "man", "man1");
    private static final Path CONVERTER = Path.of("/usr/bin/asciidoctor");

    private static CommandSpec program() {
        World nowhere = new World(InputStream.nullInputStream(), Clock.systemUTC(), false, true);
        return Main.commandLine(nowhere).getCommandSpec();
    }

    /** What says by which version of the converter a page was made stands in comments. */
    private static Map<String, String> pages(Path folder) throws IOException {
        Map<String, String> pages = new TreeMap<>();
        try (Stream<Path> files = Files.list(folder)) {
            for (Path file :
                    files.filter(file -> file.toString().endsWith(".1")).toList()) {
                pages.put(
                        file.getFileName().toString(),
                        Files.readAllLines(file).stream()
                                .filter(line -> !line.startsWith(".\\\"") && !line.startsWith("'\\\""))
                                .collect(Collectors.joining("\n")));
            }
        }
        return pages;
    }

    @Test
    void areKeptAsTheCommandsMakeThem() throws IOException, InterruptedException {
        assumeTrue(Files.isExecutable(CONVERTER), "asciidoctor is not installed");
        Path folder = Path.of("target", "man", "man1");
        if (Files.isDirectory(folder)) {
            try (Stream<Path> old = Files.walk(folder)) {
                for (Path file : old.sorted(Comparator.reverseOrder()).toList()) {
                    Files.delete(file);
                }
            }
        }
        Files.createDirectories(folder);
        ManPageGenerator.generateManPage(folder.toFile(), null, new boolean[0], true, program());
        List<String> command = new ArrayList<>(List.of(CONVERTER.toString(), "-b", "manpage", "-a", "reproducible"));
        try (Stream<Path> files = Files.list(folder)) {
            files.map(Path::toString).sorted().forEach(command::add);
        }
        Process converter =
                new ProcessBuilder(command).redirectErrorStream(true).start();
        String said = new String(converter.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(converter.waitFor()).as(said).isZero();
        assertThat(pages(KEPT))
                .as("copy cli/target/man/man1/*.1 to docs/man/man1")
                .isEqualTo(pages(folder));
    }

    @Test
    void existForEachCommandAndNameEachOption() throws IOException {
        Map<String, String> kept = pages(KEPT);
        List<CommandSpec> commands = new ArrayList<>(List.of(program()));
        program().subcommands().values().forEach(sub -> commands.add(sub.getCommandSpec()));
        assertThat(kept.keySet())
                .isEqualTo(commands.stream()
                        .map(spec -> spec.qualifiedName("-") + ".1")
                        .collect(Collectors.toSet()));
        for (CommandSpec spec : commands) {
            for (OptionSpec option : spec.options()) {
                if (option.hidden()) {
                    continue;
                }
                assertThat(kept.get(spec.qualifiedName("-") + ".1"))
                        .contains(option.longestName().replace("-", "\\-"));
            }
        }
    }
}
