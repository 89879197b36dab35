package warden.cli;

import java.io.IOException;
import java.nio.charset.CharacterCodingException;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import warden.gather.aws.AccountList;
import warden.gather.aws.OrganizationSurvey.Member;

/** The options that say of which accounts surveys are taken, and by which role. */
final class AccountsOptions {
    private boolean organization;
    private @Nullable String accounts;
    private @Nullable String role;

    /** Declares them. */
    void declare(Options line) {
        line.flag(
                "--organization",
                "Survey all active accounts of the organization, each into a file of the folder --output",
                value -> organization = value);
        line.text(
                "--accounts",
                "FILE",
                "The same of the accounts in this list, CSV with the columns account, name, role, external-id and via; all but the first may be missing",
                value -> accounts = value);
        line.text(
                "--role",
                "NAME",
                "With --organization or --accounts: the role to assume in each account",
                value -> role = value);
    }

    /** True when many accounts are meant. */
    boolean isGiven() {
        if (organization && accounts != null) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND, "--organization and --accounts both say which accounts; leave one out");
        }
        if (!organization && accounts == null && role != null) {
            throw new InputException(ExitCode.WRONG_COMMAND, "--role goes with --organization or --accounts FILE");
        }
        if (role != null && !AccountList.isRole(role)) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    "--role takes the name of a role, such as audit/survey, not \"" + role + "\"");
        }
        if (role != null && role.startsWith("arn:")) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND, "--role takes a name that each account has a role of, not an ARN");
        }
        if (organization && role == null) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    "--organization needs the role to assume in each account; name it with --role");
        }
        return organization || accounts != null;
    }

    boolean isOrganization() {
        return organization;
    }

    Optional<String> role() {
        return Optional.ofNullable(role);
    }

    /** Reads the list of accounts. */
    List<Member> list() {
        String file = accounts;
        if (file == null) {
            return List.of();
        }
        try {
            return AccountList.parse(Files.readString(Path.of(file)), file, role());
        } catch (AccountList.Unusable unusable) {
            throw new InputException(ExitCode.WRONG_INPUT, unusable.getMessage());
        } catch (CharacterCodingException notText) {
            throw new InputException(ExitCode.WRONG_INPUT, file + ": this is not UTF-8 text");
        } catch (IOException | InvalidPathException unreadable) {
            throw new InputException(
                    ExitCode.WRONG_INPUT,
                    file + ": there is no such file, or it cannot be read; give one with --accounts FILE");
        }
    }
}
