package warden.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import warden.core.document.Json;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.gather.aws.OrganizationSurvey.Listed;

/**
 * A folder of surveys of many accounts: a file for each, and one that lists them all, so that an account whose survey is missing is not taken
 * for one that is not there.
 */
final class AccountsFolder {
    private static final String LIST = "accounts.json";

    private final Path folder;

    private AccountsFolder(Path folder) {
        this.folder = folder;
    }

    /**
     * Returns a folder to write to.
     *
     * @param mayHold whether surveys may be there already
     */
    static AccountsFolder at(Path folder, boolean mayHold) {
        if (Files.exists(folder) && !Files.isDirectory(folder)) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    folder + ": this is a file; many surveys need a folder, name one with --output");
        }
        if (!mayHold && Files.exists(folder.resolve(LIST))) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    folder
                            + ": holds surveys already, which are not replaced; --resume goes on with what is missing, --force"
                            + " replaces them, --output names another folder");
        }
        return new AccountsFolder(folder);
    }

    /** Returns the file of an account's survey. */
    Path file(String account) {
        return folder.resolve(account + ".ndjson");
    }

    /** Makes the folder if it is missing, and writes down which accounts there are. */
    void begin(Listed listed) {
        try {
            if (!Files.isDirectory(folder)) {
                Files.createDirectory(folder);
            }
        } catch (IOException refused) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    folder + ": cannot be made (" + TargetFile.why(refused) + "); name another folder with --output");
        }
        List<Map<String, Object>> accounts = new ArrayList<>();
        listed.members().stream()
                .sorted((one, other) -> one.account().compareTo(other.account()))
                .forEach(member -> {
                    Map<String, Object> each = new LinkedHashMap<>();
                    each.put("account", member.account());
                    each.put("name", member.name());
                    each.put("role", member.role());
                    accounts.add(each);
                });
        TargetFile.write(folder.resolve(LIST), Json.text(Json.object("accounts", accounts)) + "\n", "--output");
    }

    /** Returns the accounts of a folder of which no survey lies there; none for a folder that lists none. */
    static List<String> missing(Path folder) {
        Path list = folder.resolve(LIST);
        if (!Files.isRegularFile(list)) {
            return List.of();
        }
        try {
            Optional<JsonPart> root = JsonReader.read(Files.readString(list)).root();
            if (root.isEmpty()) {
                throw new InputException(
                        ExitCode.WRONG_INPUT, list + ": this is not JSON; take the surveys again with --resume");
            }
            List<String> missing = new ArrayList<>();
            for (JsonPart each : root.get().list("accounts")) {
                each.text("account")
                        .filter(number -> number.matches("[0-9]{12}"))
                        .filter(number -> !Files.exists(folder.resolve(number + ".ndjson"))
                                && !Files.exists(folder.resolve(number + ".ndjson.gz")))
                        .ifPresent(missing::add);
            }
            return missing;
        } catch (IOException unreadable) {
            throw new InputException(
                    ExitCode.WRONG_INPUT, list + ": cannot be read (" + TargetFile.why(unreadable) + ")");
        }
    }
}
