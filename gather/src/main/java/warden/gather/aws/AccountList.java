package warden.gather.aws;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.MappingIterator;
import tools.jackson.databind.ObjectReader;
import tools.jackson.dataformat.csv.CsvMapper;
import tools.jackson.dataformat.csv.CsvReadFeature;
import warden.core.document.DisplayText;
import warden.core.document.Words;
import warden.gather.aws.OrganizationSurvey.Member;

/**
 * A list of accounts to be surveyed: CSV with a row of names, of which {@code account} has to be there, and {@code name}, {@code role}, {@code
 * external-id} and {@code via} may be. Source of the form: RFC 4180.
 */
public final class AccountList {
    private static final List<String> COLUMNS = List.of("account", "name", "role", "external-id", "via");
    private static final Pattern NUMBER = Pattern.compile("[0-9]{12}");
    /** Source: IAM API Reference, Role: RoleName and Path. */
    private static final Pattern ROLE = Pattern.compile("/?([\\w+=,.@-]+/)*[\\w+=,.@-]{1,64}");

    private static final Pattern ROLE_ARN = Pattern.compile("arn:aws[a-z-]*:iam::([0-9]{12}):role/.+");
    /** Source: STS API Reference, AssumeRole: ExternalId. */
    private static final Pattern EXTERNAL_ID = Pattern.compile("[\\w+=,.@:/-]{2,1224}");

    private static final ObjectReader TABLE =
            CsvMapper.builder().build().readerFor(String[].class).with(CsvReadFeature.WRAP_AS_ARRAY);

    private final String file;
    private final Optional<String> role;

    private AccountList(String file, Optional<String> role) {
        this.file = file;
        this.role = role;
    }

    /** Says that a list cannot be used: where, why, and what to do. */
    public static final class Unusable extends Exception {
        private static final long serialVersionUID = 1L;

        Unusable(String message) {
            super(message);
        }
    }

    /**
     * Reads a list.
     *
     * @param file its name, for messages
     * @param role the role of accounts for which the list says none
     */
    public static List<Member> parse(String text, String file, Optional<String> role) throws Unusable {
        return new AccountList(file, role).members(text.startsWith("\uFEFF") ? text.substring(1) : text);
    }

    /** Returns a role's name, with its path, or its ARN, as it can be asked for; absent where it is neither. */
    public static boolean isRole(String text) {
        return ROLE_ARN.matcher(text).matches() || ROLE.matcher(text).matches();
    }

    private Unusable wrong(int row, String says) {
        return new Unusable(file + ", row " + row + ": " + says);
    }

    private List<Member> members(String text) throws Unusable {
        List<String> names = List.of();
        List<Member> members = new ArrayList<>();
        Set<String> seen = new HashSet<>();
        int row = 0;
        try (MappingIterator<String[]> rows = TABLE.readValues(text)) {
            while (rows.hasNext()) {
                List<String> values = Stream.of(rows.next())
                        .map(value -> value == null ? "" : value.strip())
                        .toList();
                row++;
                if (values.stream().allMatch(String::isEmpty)) {
                    continue;
                }
                if (names.isEmpty()) {
                    names = names(row, values);
                    continue;
                }
                Member member = member(row, names, values);
                if (!seen.add(member.account())) {
                    throw wrong(row, "the account " + member.account() + " is there twice; name each once");
                }
                members.add(member);
            }
        } catch (JacksonException broken) {
            throw new Unusable(file + ": after row " + row + " this is not CSV ("
                    + DisplayText.name(String.valueOf(broken.getOriginalMessage())) + ")");
        }
        if (members.isEmpty()) {
            throw new Unusable(file + ": this names no account; it is CSV whose first row is "
                    + String.join(",", COLUMNS) + ", of which account has to be there");
        }
        return members;
    }

    private List<String> names(int row, List<String> values) throws Unusable {
        for (String name : values) {
            if (!COLUMNS.contains(name)) {
                throw wrong(
                        row,
                        "there is no column \"" + DisplayText.name(name) + "\""
                                + Words.perhaps(name, Set.copyOf(COLUMNS))
                                        .orElse("; known are " + String.join(", ", COLUMNS)));
            }
        }
        if (!values.contains("account") || values.stream().distinct().count() < values.size()) {
            throw wrong(row, "the first row names the columns, each once, and account among them");
        }
        return values;
    }

    private Member member(int row, List<String> names, List<String> values) throws Unusable {
        if (values.size() > names.size()) {
            throw wrong(row, "it has more values than there are columns");
        }
        String account = value(names, values, "account");
        if (!NUMBER.matcher(account).matches()) {
            throw wrong(row, "an account's number has 12 digits, not \"" + DisplayText.name(account) + "\"");
        }
        Optional<String> named = Optional.of(value(names, values, "role"))
                .filter(text -> !text.isEmpty())
                .or(() -> role);
        if (named.isEmpty() || !isRole(named.get())) {
            throw wrong(
                    row,
                    named.isEmpty()
                            ? "it has no role; give one for all with --role NAME"
                            : "\"" + DisplayText.name(named.get()) + "\" is neither a role's name nor its ARN");
        }
        String role = named.get();
        boolean isElsewhere =
                ROLE_ARN.matcher(role).results().anyMatch(arn -> !arn.group(1).equals(account));
        if (isElsewhere) {
            throw wrong(row, "the role " + DisplayText.name(role) + " is not of the account " + account);
        }
        Optional<String> externalId =
                Optional.of(value(names, values, "external-id")).filter(text -> !text.isEmpty());
        if (externalId.filter(id -> !EXTERNAL_ID.matcher(id).matches()).isPresent()) {
            throw wrong(row, "an external id has 2 to 1,224 letters, digits and +=,.@:/-");
        }
        List<String> via = Arrays.stream(value(names, values, "via").split("[\\s;]+"))
                .filter(text -> !text.isEmpty())
                .toList();
        for (String each : via) {
            if (!ROLE_ARN.matcher(each).matches()) {
                throw wrong(
                        row,
                        "via takes ARNs of roles, with blanks between them, not \"" + DisplayText.name(each) + "\"");
            }
        }
        return new Member(account, value(names, values, "name"), role, externalId, via);
    }

    private static String value(List<String> names, List<String> values, String name) {
        int place = names.indexOf(name);
        return place < 0 || place >= values.size() ? "" : values.get(place);
    }
}
