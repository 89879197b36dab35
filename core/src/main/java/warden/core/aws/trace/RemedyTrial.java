package warden.core.aws.trace;

import java.util.ArrayList;
import java.util.List;
import warden.core.aws.account.Account;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.trace.Tracer.Followed;
import warden.core.survey.SurveyLine;
import warden.core.trace.Remedy;
import warden.core.trace.Trace;
import warden.core.trace.Visit;

/** Makes a remedy on a copy of what was surveyed, and follows the same visit there: it is told with what then still is in the way. */
final class RemedyTrial {
    /** A visit that still fails after so many remedies wants more than a sentence. */
    private static final int MOST = 4;

    private final AwsCloud cloud;
    private final Visit visit;

    RemedyTrial(AwsCloud cloud, Visit visit) {
        this.cloud = cloud;
        this.visit = visit;
    }

    private static boolean isGiven(Trace trace) {
        return trace.surely(outcome -> !outcome.isError());
    }

    /** Returns all that is to be done until the page is given, in order; or how far that goes. */
    String told(Followed first) {
        List<String> told = new ArrayList<>();
        AwsCloud copy = cloud;
        Followed reached = first;
        while (told.size() < MOST) {
            Remedy next = reached.remedy();
            if (next.says().isEmpty() || told.contains(next.says())) {
                break;
            }
            told.add(next.says());
            if (next.changes().isEmpty()) {
                return joined(told);
            }
            copy = copy.with(account -> applied(next, account));
            reached = new Tracer(copy, true).follow(visit);
            if (isGiven(reached.trace())) {
                return joined(told);
            }
        }
        return told.isEmpty()
                ? ""
                : joined(told) + " That alone does not surely give the page: "
                        + reached.trace().why();
    }

    private static String joined(List<String> told) {
        return String.join(" Then: ", told);
    }

    /** Returns the account as it is when the changes that concern it are made. */
    static Account applied(Remedy remedy, Account account) {
        Account copy = account;
        for (SurveyLine line : remedy.changesOf(account)) {
            copy = copy.with(line);
        }
        return copy;
    }
}
