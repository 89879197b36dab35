package warden.core.aws.policy;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.core.access.Truth;
import warden.core.aws.policy.PrincipalElement.Naming;

class PrincipalElementTest {
    private static final String ROOT = "arn:aws:iam::109876543210:root";
    private static final String USER = "arn:aws:iam::109876543210:user/anna";
    private static final String ROLE = "arn:aws:iam::109876543210:role/publisher";
    private static final CanonicalIds IDS = new CanonicalIds() {
        @Override
        public Truth standsFor(String id, Actor actor) {
            return Truth.of(id.equals("c0ffee")
                    && (actor instanceof Actor.OriginIdentity identity
                                    && identity.id().equals("E1HERON")
                            || actor.home().filter("109876543210"::equals).isPresent()));
        }

        @Override
        public boolean mayBelongTo(String id, String account) {
            return id.equals("c0ffee") == account.equals("109876543210");
        }
    };

    private static Actor actor(String who) {
        return Actor.parse(who).orElseThrow();
    }

    @ParameterizedTest
    @CsvSource({
        "*,                                           anyone,                  TRUE,    TRUE",
        "109876543210,                                " + ROOT + ",            TRUE,    TRUE",
        "109876543210,                                " + USER + ",            FALSE,   TRUE",
        "109876543210,                                anyone,                  FALSE,   FALSE",
        "210987654321,                                " + ROOT + ",            FALSE,   FALSE",
        USER + ",                                     " + USER + ",            TRUE,    TRUE",
        USER + ",                                     " + ROOT + ",            FALSE,   FALSE",
        "arn:aws:iam::109876543210:user/bert,         " + USER + ",            FALSE,   FALSE",
        ROLE + ",                                     " + ROLE + ",            TRUE,    TRUE",
        ROLE + ",                                     " + USER + ",            FALSE,   FALSE",
        "arn:aws:sts::109876543210:assumed-role/publisher/night, " + ROLE + ", UNKNOWN, UNKNOWN",
        "arn:aws:sts::210987654321:assumed-role/publisher/night, " + ROLE + ", FALSE,   FALSE",
        "arn:aws:sts::109876543210:assumed-role/other/night,     " + ROLE + ", FALSE,   FALSE",
        "arn:aws:iam::cloudfront:user/CloudFront Origin Access Identity E1HERON, origin-identity:E1HERON, TRUE, TRUE",
        "arn:aws:iam::cloudfront:user/CloudFront Origin Access Identity E2HERON, origin-identity:E1HERON, FALSE, FALSE",
        "AIDAABCDEFGHIJKLMNOP,                        " + USER + ",            FALSE,   FALSE",
        "arn:aws:iam::109876543210:user/*,            " + USER + ",            UNKNOWN, UNKNOWN",
        "arn:aws:iam::109876543210:user/?nna,         anyone,                  FALSE,   FALSE",
        "arn:aws:sts::109876543210:federated-user/x,  " + USER + ",            FALSE,   FALSE",
    })
    void saysWhomItNamesAndForWhomItStands(String text, String who, Truth itself, Truth standsFor) {
        PrincipalElement element = PrincipalElement.ofAws(text);
        assertThat(element.namesItself(actor(who), IDS)).isEqualTo(itself);
        assertThat(element.standsFor(actor(who), IDS)).isEqualTo(standsFor);
    }

    @Test
    void asksWhoseACanonicalIdIs() {
        PrincipalElement ours = new PrincipalElement.CanonicalUser("c0ffee");
        assertThat(ours.namesItself(actor("origin-identity:E1HERON"), IDS)).isEqualTo(Truth.TRUE);
        assertThat(ours.namesItself(actor(ROOT), IDS)).isEqualTo(Truth.TRUE);
        assertThat(ours.namesItself(actor(USER), IDS)).isEqualTo(Truth.FALSE);
        assertThat(ours.standsFor(actor(USER), IDS)).isEqualTo(Truth.TRUE);
        assertThat(ours.standsFor(actor("anyone"), IDS)).isEqualTo(Truth.FALSE);
        assertThat(new PrincipalElement.CanonicalUser("deadbeef").standsFor(actor(USER), IDS))
                .isEqualTo(Truth.FALSE);
    }

    @Test
    void comparesServicesWithoutRegardToCase() {
        PrincipalElement service = new PrincipalElement.ServiceName("CloudFront.amazonaws.com");
        assertThat(service.namesItself(actor("service:cloudfront.amazonaws.com"), IDS))
                .isEqualTo(Truth.TRUE);
        assertThat(service.namesItself(actor("service:logging.s3.amazonaws.com"), IDS))
                .isEqualTo(Truth.FALSE);
        assertThat(service.namesItself(actor("anyone"), IDS)).isEqualTo(Truth.FALSE);
    }

    @ParameterizedTest
    @CsvSource({
        "*,            " + USER + ", EVERYONE",
        ROLE + ",      " + ROLE + ", ROLE",
        USER + ",      " + USER + ", ITSELF",
        "109876543210, " + USER + ", ACCOUNT",
        "109876543210, " + ROLE + ", ACCOUNT",
        "109876543210, " + ROOT + ", ITSELF",
    })
    void saysHowItNames(String text, String who, Naming naming) {
        assertThat(PrincipalElement.ofAws(text).naming(actor(who))).isEqualTo(naming);
    }

    @Test
    void aCanonicalIdNamesTheMembersOfItsAccountAsTheirAccount() {
        assertThat(new PrincipalElement.CanonicalUser("c0ffee").naming(actor(USER)))
                .isEqualTo(Naming.ACCOUNT);
    }
}
