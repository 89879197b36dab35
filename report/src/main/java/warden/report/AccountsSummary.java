package warden.report;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/** What became of the surveys of many accounts, for people. */
public final class AccountsSummary {
    private static final int MOST = 20;
    private static final int REASONS = 3;

    private AccountsSummary() {}

    /** How much of an account was read. */
    public enum State {
        /** Whatever was asked. */
        READ,
        /** Some calls were refused. */
        IN_PART,
        /** Nothing: nobody was let in. */
        REFUSED;

        private String word() {
            return name().toLowerCase(Locale.ROOT).replace('_', ' ');
        }
    }

    /**
     * One account.
     *
     * @param name empty where nobody calls it anything
     * @param unread what was not read, and why
     */
    public record Account(String number, String name, State state, int readings, List<String> unread) {
        public Account {
            unread = List.copyOf(unread);
        }
    }

    /**
     * Returns the lines.
     *
     * @param closed how many accounts of the organization are not active
     * @param folder where the surveys are
     */
    public static List<String> of(List<Account> accounts, int closed, String folder) {
        List<String> lines = new ArrayList<>();
        Map<State, Long> counts = new LinkedHashMap<>();
        for (State state : State.values()) {
            counts.put(
                    state,
                    accounts.stream().filter(each -> each.state() == state).count());
        }
        int readings = accounts.stream().mapToInt(Account::readings).sum();
        lines.add(Lines.count(accounts.size(), "account") + ", "
                + String.join(
                        ", ",
                        counts.entrySet().stream()
                                .map(each ->
                                        each.getValue() + " " + each.getKey().word())
                                .toList())
                + "; " + String.format(Locale.ROOT, "%,d", readings) + " readings in " + folder + ".");
        if (closed > 0) {
            lines.add(Lines.count(closed, "account") + " of the organization " + (closed == 1 ? "is" : "are")
                    + " not active and not surveyed.");
        }
        List<Account> odd = accounts.stream()
                .filter(each -> each.state() != State.READ)
                .sorted((one, other) -> other.state().compareTo(one.state()))
                .toList();
        if (!odd.isEmpty()) {
            int width = odd.stream()
                    .limit(MOST)
                    .mapToInt(each -> each.name().length())
                    .max()
                    .orElse(0);
            odd.stream().limit(MOST).forEach(each -> lines.add(row(each, Math.min(width, 32))));
            if (odd.size() > MOST) {
                lines.add("  and " + (odd.size() - MOST) + " more; their surveys say so.");
            }
            lines.add(
                    "What was not read is not known: no site of these accounts is called healthy for it. --resume asks again.");
        }
        lines.add("  next       gentle-warden audit --survey " + folder);
        return lines;
    }

    private static String row(Account account, int width) {
        String reasons =
                String.join(", ", account.unread().stream().limit(REASONS).toList());
        int more = account.unread().size() - REASONS;
        return "  " + account.number() + "  " + Lines.column(account.name(), width) + (width > 0 ? "  " : "")
                + Lines.column(account.state().word(), 7) + "  " + reasons + (more > 0 ? " and " + more + " more" : "");
    }
}
