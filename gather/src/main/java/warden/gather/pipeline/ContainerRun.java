package warden.gather.pipeline;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import warden.core.pipeline.Operation;
import warden.core.pipeline.PipelineValue;

/**
 * A container that a command runs: which image, what it is told, and which folders of the host it sees.
 *
 * <p>Source: Docker Docs, "docker container run": {@code --volume host:container[:options]}, {@code --mount type=bind,source=…,target=…},
 * {@code --workdir}.
 *
 * @param image the image that runs
 * @param words what the image's program is told
 * @param mounts folders of the host by where the container sees them
 * @param folder the working folder within the container
 */
record ContainerRun(ContainerImage image, List<PipelineValue> words, Map<String, PipelineValue> mounts, String folder) {
    private static final Pattern HERE = Pattern.compile("^(\\$PWD|\\$\\{PWD\\}|\\$\\(pwd\\)|`pwd`|\\.)(?=/|$)/*");

    /**
     * Returns the run that these arguments of {@code run} ask for; absent when they name no image that is a storage client.
     *
     * @param images those that are, by their last name, without registry, tag and digest
     */
    static Optional<ContainerRun> of(List<PipelineValue> arguments, Map<String, ContainerImage> images) {
        Map<String, PipelineValue> mounts = new LinkedHashMap<>();
        Optional<String> folder = Optional.empty();
        for (int i = 0; i < arguments.size(); i++) {
            String text = arguments.get(i).text();
            ContainerImage image = images.get(imageName(text));
            if (image != null) {
                return Optional.of(new ContainerRun(
                        image,
                        List.copyOf(arguments.subList(i + 1, arguments.size())),
                        mounts,
                        folder.orElse(image.folder())));
            }
            if (!text.startsWith("-")) {
                continue;
            }
            int equals = text.indexOf('=');
            String option = equals > 0 && text.startsWith("--") ? text.substring(0, equals) : text;
            PipelineValue value = equals > 0 && text.startsWith("--")
                    ? new PipelineValue(
                            text.substring(equals + 1), arguments.get(i).open())
                    : i + 1 < arguments.size() ? arguments.get(i + 1) : PipelineValue.of("");
            switch (option) {
                case "-v", "--volume" -> volume(value, mounts);
                case "--mount" -> mount(value, mounts);
                case "-w", "--workdir" -> folder = Optional.of(value.text()).filter(path -> path.startsWith("/"));
                default -> {}
            }
        }
        return Optional.empty();
    }

    private static String imageName(String text) {
        String last = text.substring(text.lastIndexOf('/') + 1);
        return text.startsWith("-") || text.contains("=") ? "" : last.replaceFirst("[:@].*", "");
    }

    private static void volume(PipelineValue value, Map<String, PipelineValue> mounts) {
        String[] parts = value.text().split(":(?![-?+=])");
        if (parts.length >= 2 && parts[1].startsWith("/")) {
            bind(parts[0], parts[1], value, mounts);
        }
    }

    private static void mount(PipelineValue value, Map<String, PipelineValue> mounts) {
        Map<String, String> members = new LinkedHashMap<>();
        for (String member : value.text().split(",")) {
            int equals = member.indexOf('=');
            if (equals > 0) {
                members.put(member.substring(0, equals), member.substring(equals + 1));
            }
        }
        String source = members.getOrDefault("source", members.getOrDefault("src", ""));
        String target =
                members.getOrDefault("target", members.getOrDefault("destination", members.getOrDefault("dst", "")));
        if (!source.isEmpty() && target.startsWith("/")) {
            bind(source, target, value, mounts);
        }
    }

    /** The folder that the script stands in is written in several ways, which leave nothing open. */
    private static void bind(String source, String target, PipelineValue value, Map<String, PipelineValue> mounts) {
        String relative = HERE.matcher(source).replaceFirst("");
        boolean isHere = !relative.equals(source);
        List<String> open = new ArrayList<>(value.open());
        if (isHere) {
            open.removeIf(name -> name.equals("PWD") || name.equals("pwd") || name.contains("(pwd)"));
        }
        String host = isHere && relative.isEmpty() ? "." : relative;
        mounts.put(Folders.within("", target), new PipelineValue(host, open));
    }

    /** Returns what is done, with the source of an upload as the host names it; a source inside the image alone keeps its name. */
    Operation onHost(Operation operation) {
        if (!(operation instanceof Operation.Upload upload)
                || upload.source().text().startsWith("$")) {
            return operation;
        }
        String within = Folders.within(folder, upload.source().text());
        return mounts.keySet().stream()
                .filter(mount -> Folders.isWithin(mount, within))
                .max(Comparator.comparingInt(String::length))
                .map(mount -> {
                    PipelineValue host = mounts.get(mount);
                    String rest = within.substring(mount.length()).replaceFirst("^/+", "");
                    String path = rest.isEmpty() ? host.text() : Folders.within(host.text(), rest);
                    List<String> open = new ArrayList<>(host.open());
                    open.addAll(upload.source().open());
                    return (Operation) upload.from(new PipelineValue(path, open));
                })
                .orElse(operation);
    }
}
