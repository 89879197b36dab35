package warden.gather.aws.template;

import java.util.Map;
import java.util.Optional;

/** A folder of sources that a test holds, with no folders in it. */
record HclFolder(Map<String, String> files) implements Templates.Folders {
    @Override
    public Optional<Map<String, String>> sources(String folder) {
        return files.isEmpty() ? Optional.empty() : Optional.of(files);
    }

    @Override
    public Optional<String> file(String folder, String name) {
        return Optional.ofNullable(files.get(name));
    }
}
