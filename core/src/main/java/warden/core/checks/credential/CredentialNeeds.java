package warden.core.checks.credential;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.check.Verdict;
import warden.core.identity.Holdings;
import warden.core.site.Publisher;
import warden.core.survey.Need;

/** What is missing to judge a credential. */
final class CredentialNeeds {
    private CredentialNeeds() {}

    static Verdict unknown(Publisher publisher, Optional<String> site) {
        Holdings holdings = publisher.principal().holdings();
        List<Need> needs = new ArrayList<>(holdings.missing());
        holdings.boundaryMissing().ifPresent(needs::add);
        if (needs.isEmpty()) {
            needs.add(new Need(
                    publisher.principal().isRole() ? "iam-role" : "iam-user",
                    publisher.arn(),
                    "one of its policies is not one that the provider accepts",
                    ""));
        }
        return new Verdict.Unknown(publisher.arn(), site, needs);
    }
}
