package warden.core.aws.checks.hosting;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import warden.core.aws.storage.Website;
import warden.core.aws.storage.Website.RoutingRule;
import warden.core.survey.Citation;
import warden.core.survey.Reading;

/** The redirects that a website sets, each as the address that it leads visitors to. */
final class Redirects {
    private Redirects() {}

    /** One redirect: where it is set, the host and scheme that it leads to. */
    record Redirect(Citation at, String host, boolean secure, boolean all) {}

    /** Returns the redirects that name a host. */
    static List<Redirect> of(Reading.Found<Website> website) {
        List<Redirect> redirects = new ArrayList<>();
        Website value = website.value();
        value.redirectHost()
                .ifPresent(host -> redirects.add(new Redirect(
                        website.at().at("/RedirectAllRequestsTo", host),
                        host.toLowerCase(Locale.ROOT),
                        value.redirectProtocol().filter("https"::equals).isPresent(),
                        true)));
        for (RoutingRule rule : value.rules()) {
            rule.host()
                    .ifPresent(host -> redirects.add(new Redirect(
                            website.at().at(rule.at().toString(), host),
                            host.toLowerCase(Locale.ROOT),
                            rule.protocol().filter("https"::equals).isPresent(),
                            false)));
        }
        return redirects;
    }
}
