package warden.core.audit;

import java.util.ArrayList;
import java.util.Collections;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import warden.core.site.Site;
import warden.core.survey.SurveyedAccount;

/**
 * What was found in one account.
 *
 * @param account absent for what cannot be told to be one account's
 * @param sites how many sites are the account's
 * @param healthy how many of them nothing is wrong with
 * @param unknown how many questions are open
 */
public record AccountSum(
        Optional<SurveyedAccount> account, long sites, long healthy, Map<Severity, Long> counts, long unknown) {
    public AccountSum {
        counts = Collections.unmodifiableMap(new EnumMap<>(counts));
    }

    /** Returns what an audit found by account, in the order of the surveys; what is no account's last, if there is any. */
    public static List<AccountSum> of(Audit audit) {
        AuditContext context = audit.context();
        Map<String, SurveyedAccount> bySite = new HashMap<>();
        context.sites().forEach(site -> bySite.putIfAbsent(site.name(), site.account()));
        Map<Optional<SurveyedAccount>, List<Severity>> found = audit.findings().stream()
                .collect(Collectors.groupingBy(
                        finding -> accountOf(finding, bySite, context),
                        Collectors.mapping(Finding::severity, Collectors.toList())));
        Map<Optional<SurveyedAccount>, Long> open = audit.unknowns().stream()
                .map(Audit.UnknownAnswer::verdict)
                .collect(Collectors.groupingBy(
                        verdict -> verdict.site().map(bySite::get).or(() -> context.accountOf(verdict.subject())),
                        Collectors.counting()));
        Map<SurveyedAccount, List<Site>> sites = audit.sites().stream().collect(Collectors.groupingBy(Site::account));
        List<AccountSum> sums = new ArrayList<>();
        for (SurveyedAccount account : context.accounts()) {
            Optional<SurveyedAccount> key = Optional.of(account);
            List<Site> own = sites.getOrDefault(account, List.of());
            sums.add(new AccountSum(
                    key,
                    own.size(),
                    own.stream().filter(audit::isHealthy).count(),
                    Severity.counts(found.getOrDefault(key, List.of())),
                    open.getOrDefault(key, 0L)));
        }
        List<Severity> rest = found.getOrDefault(Optional.empty(), List.of());
        long restOpen = open.getOrDefault(Optional.empty(), 0L);
        if (!rest.isEmpty() || restOpen > 0) {
            sums.add(new AccountSum(Optional.empty(), 0, 0, Severity.counts(rest), restOpen));
        }
        return sums;
    }

    /** A finding is of its site's account, else of the one whose survey shows it. */
    private static Optional<SurveyedAccount> accountOf(
            Finding finding, Map<String, SurveyedAccount> bySite, AuditContext context) {
        String file = finding.because().get(0).file();
        return finding.site()
                .map(bySite::get)
                .or(() -> context.accounts().stream()
                        .filter(account -> account.survey().header().file().equals(file))
                        .findFirst())
                .or(() -> context.accountOf(finding.subject()));
    }
}
