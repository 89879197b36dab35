package warden.core.cloud;

import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import java.util.function.UnaryOperator;
import java.util.stream.Stream;
import warden.core.site.Site;
import warden.core.site.SiteFile;
import warden.core.survey.Need;
import warden.core.survey.Survey;
import warden.core.survey.SurveyedAccount;
import warden.core.trace.Case;
import warden.core.trace.Trace;
import warden.core.trace.Visit;

/**
 * Everything that was surveyed, of one provider or several.
 *
 * @param all at least one
 * @param file what the owner says about the sites
 */
public record Clouds(List<Cloud> all, SiteFile file) {
    public Clouds {
        all = List.copyOf(all);
    }

    /** Returns the accounts, in the order of the clouds. */
    public List<SurveyedAccount> accounts() {
        return each(Cloud::accounts);
    }

    /** Returns the accounts' surveys, in the same order. */
    public List<Survey> surveys() {
        return accounts().stream().map(SurveyedAccount::survey).toList();
    }

    /** Returns the name by which a site file calls a store; absent where it has none. */
    public Optional<String> statedName(String storeId) {
        return all.stream().flatMap(cloud -> cloud.statedName(storeId).stream()).findFirst();
    }

    /** Returns the sites, in the order of the clouds. */
    public List<Site> sites() {
        return each(Cloud::sites);
    }

    /** Returns what keeps credentials from being known. */
    public List<Need> unreadPrincipals() {
        return each(Cloud::unreadPrincipals);
    }

    private <T> List<T> each(Function<Cloud, List<? extends T>> part) {
        return all.stream().<T>flatMap(cloud -> part.apply(cloud).stream()).toList();
    }

    /** Returns the account that an identifier is of; absent where none says so. */
    public Optional<SurveyedAccount> accountOf(String subject) {
        return all.stream()
                .flatMap(cloud -> cloud.accountOf(subject).stream())
                .map(SurveyedAccount.class::cast)
                .findFirst();
    }

    /** Returns the names of the surveys as the user gave them, in the order of the accounts. */
    public List<String> surveyFiles() {
        return accounts().stream()
                .map(account -> account.survey().header().file())
                .toList();
    }

    /** Returns the cloud that answers for a host: the one that has its site, or else the first that knows the name. */
    private Cloud answering(String host) {
        return Stream.<Cloud>concat(
                        all.stream().filter(cloud -> cloud.sites().stream()
                                .anyMatch(site -> site.hosts().contains(host))),
                        all.stream().filter(cloud -> cloud.answersFor(host)))
                .findFirst()
                .orElse(all.get(0));
    }

    /** Returns what follows visitors' requests through all clouds. */
    public Following following(boolean triesRemedies) {
        List<Following> each =
                all.stream().map(cloud -> cloud.following(triesRemedies)).toList();
        return new Following() {
            private Following of(String host) {
                return each.get(all.size() == 1 ? 0 : all.indexOf(answering(host)));
            }

            @Override
            public Trace trace(Visit visit) {
                return of(visit.address().host()).trace(visit);
            }

            @Override
            public List<Case> cases(String host) {
                return of(host).cases(host);
            }
        };
    }

    /** Returns what answers questions about any of the clouds; what names none of them is the first's. */
    public UnaryOperator<String> questions(boolean explains) {
        List<UnaryOperator<String>> each =
                all.stream().map(cloud -> cloud.questions(explains)).toList();
        if (all.size() == 1) {
            return each.get(0);
        }
        return line -> {
            for (int i = 0; i < all.size(); i++) {
                if (all.get(i).isAsked(line)) {
                    return each.get(i).apply(line);
                }
            }
            return each.get(0).apply(line);
        };
    }
}
