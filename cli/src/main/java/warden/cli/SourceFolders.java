package warden.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import warden.gather.aws.template.Templates;

/** Folders of sources, as the tool reads them: their own files, never those of folders below. */
final class SourceFolders implements Templates.Folders {
    private final Map<String, String> instead;

    /**
     * Makes ready.
     *
     * @param instead texts that take the place of files', by their paths
     */
    SourceFolders(Map<String, String> instead) {
        this.instead = Map.copyOf(instead);
    }

    static boolean isFolder(String name) {
        try {
            return Files.isDirectory(Path.of(name));
        } catch (InvalidPathException noPath) {
            return false;
        }
    }

    @Override
    public Optional<Map<String, String>> sources(String folder) {
        Map<String, String> files = ending(folder, name -> name.endsWith(".tf") || name.endsWith(".tf.json"));
        files.replaceAll(instead::getOrDefault);
        return files.isEmpty() ? Optional.empty() : Optional.of(files);
    }

    /** Source: the language's documentation, "Input variables", "Variable definition precedence". */
    @Override
    public Map<String, String> values(String folder) {
        Map<String, String> files = new LinkedHashMap<>(ending(folder, "terraform.tfvars"::equals));
        files.putAll(ending(folder, "terraform.tfvars.json"::equals));
        files.putAll(ending(folder, name -> name.endsWith(".auto.tfvars") || name.endsWith(".auto.tfvars.json")));
        return files;
    }

    private static Map<String, String> ending(String folder, java.util.function.Predicate<String> wanted) {
        Map<String, String> files = new LinkedHashMap<>();
        try (Stream<Path> entries = Files.list(Path.of(folder))) {
            List<Path> all = entries.filter(Files::isRegularFile)
                    .filter(file -> wanted.test(String.valueOf(file.getFileName())))
                    .sorted()
                    .toList();
            for (Path file : all) {
                files.put(file.toString(), Files.readString(file));
            }
        } catch (IOException | InvalidPathException unreadable) {
            throw new InputException(
                    ExitCode.WRONG_INPUT, folder + ": a source in it cannot be read (" + unreadable.getMessage() + ")");
        }
        return files;
    }

    /** Reads a file of the folder, or below; nothing that lies elsewhere. */
    @Override
    public Optional<String> file(String folder, String name) {
        try {
            Path root = Path.of(folder).toAbsolutePath().normalize();
            Path file = root.resolve(name).normalize();
            return file.startsWith(root) && Files.isRegularFile(file)
                    ? Optional.of(Files.readString(file))
                    : Optional.empty();
        } catch (IOException | InvalidPathException unreadable) {
            return Optional.empty();
        }
    }
}
