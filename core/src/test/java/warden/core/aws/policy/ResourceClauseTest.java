package warden.core.aws.policy;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.SurveyBuilder.json;

import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.core.access.Truth;
import warden.core.algebra.Language;
import warden.core.document.Pointer;

class ResourceClauseTest {
    private static final Context ANNA = Context.given(Map.of("aws:username", ContextValue.Known.of("anna")));
    private static final Context OPEN = Context.given(Map.of("aws:username", ContextValue.UNKNOWN));

    private static ResourceClause clause(String members) {
        return PolicyParser.parse(
                        json("{'Version':'2012-10-17','Statement':{'Effect':'Allow','Action':'s3:*'," + members + "}}"),
                        PolicyKind.IDENTITY,
                        Pointer.ROOT)
                .statements()
                .get(0)
                .resources()
                .orElseThrow();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "'Resource':'arn:aws:s3:::b/*' | arn:aws:s3:::b/x | TRUE | TRUE | TRUE",
                "'Resource':'arn:aws:s3:::b/*' | arn:aws:s3:::c/x | FALSE | FALSE | FALSE",
                "'NotResource':'arn:aws:s3:::b/*' | arn:aws:s3:::b/x | FALSE | FALSE | FALSE",
                "'NotResource':'arn:aws:s3:::b/*' | arn:aws:s3:::c/x | TRUE | TRUE | TRUE",
                "'Resource':'arn:aws:s3:::b/${aws:username}/*' | arn:aws:s3:::b/anna/x | FALSE | TRUE | UNKNOWN",
                "'Resource':'arn:aws:s3:::b/${aws:username}/*' | arn:aws:s3:::b/bert/x | FALSE | FALSE | UNKNOWN",
                "'NotResource':'arn:aws:s3:::b/${aws:username}/*' | arn:aws:s3:::b/anna/x | UNKNOWN | FALSE | UNKNOWN",
                "'NotResource':'arn:aws:s3:::b/${aws:username}/*' | arn:aws:s3:::b/bert/x | UNKNOWN | TRUE | UNKNOWN",
                "'Resource':['arn:aws:s3:::b/${aws:username}','arn:aws:s3:::b/x'] | arn:aws:s3:::b/x | TRUE | TRUE | TRUE"
            })
    void coversAsFarAsItsVariablesAreSettled(String members, String resource, Truth absent, Truth settled, Truth open) {
        ResourceClause clause = clause(members);
        assertThat(clause.covers(resource, Context.empty())).isEqualTo(absent);
        assertThat(clause.covers(resource, ANNA)).isEqualTo(settled);
        assertThat(clause.covers(resource, OPEN)).isEqualTo(open);
    }

    @Test
    void boundsItsLanguageWhereAVariableIsOpen() {
        ResourceClause clause = clause("'Resource':['arn:aws:s3:::b/${aws:username}/*','arn:aws:s3:::b/all']");
        assertThat(clause.isConstant()).isFalse();
        assertThat(clause.constants()).extracting(Object::toString).containsExactly("arn:aws:s3:::b/all");
        Language least = clause.language(OPEN, Language.none());
        assertThat(least.contains("arn:aws:s3:::b/all")).isTrue();
        assertThat(least.contains("arn:aws:s3:::b/anna/x")).isFalse();
        assertThat(clause.language(OPEN, Language.all()).contains("arn:aws:s3:::b/anna/x"))
                .isTrue();
        Language exact = clause.language(ANNA, Language.none());
        assertThat(exact.contains("arn:aws:s3:::b/anna/x")).isTrue();
        assertThat(exact.contains("arn:aws:s3:::b/bert/x")).isFalse();
    }

    @Test
    void boundsANegatedLanguageTheOtherWayRound() {
        ResourceClause clause = clause("'NotResource':['arn:aws:s3:::b/${aws:username}/*']");
        assertThat(clause.language(OPEN, Language.none()).isEmpty()).isTrue();
        assertThat(clause.language(OPEN, Language.all()).isEverything()).isTrue();
        Language exact = clause.language(ANNA, Language.none());
        assertThat(exact.contains("arn:aws:s3:::b/anna/x")).isFalse();
        assertThat(exact.contains("arn:aws:s3:::b/bert/x")).isTrue();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "'Resource':'arn:aws:s3:::b/public/*' | public/x | TRUE",
                "'Resource':'arn:aws:s3:::b/public/*' | private/x | FALSE",
                "'Resource':'arn:aws:s3:::*' | anything | TRUE",
                "'Resource':'arn:aws:s3:::c/*' | x | FALSE",
                "'Resource':'arn:aws:s3:::b' | x | FALSE",
                "'NotResource':'arn:aws:s3:::b/private/*' | private/x | FALSE",
                "'NotResource':'arn:aws:s3:::b/private/*' | public/x | TRUE",
                "'Resource':'arn:aws:s3:::b/${aws:username}/*' | anna/x | TRUE"
            })
    void takesThePrefixOff(String members, String key, Truth covers) {
        assertThat(clause(members)
                        .languageAfter("arn:aws:s3:::b/", ANNA, Language.none())
                        .contains(key))
                .isEqualTo(covers == Truth.TRUE);
    }

    @Test
    void isConstantWithoutVariables() {
        assertThat(clause("'Resource':['arn:aws:s3:::b','arn:aws:s3:::b/*']").isConstant())
                .isTrue();
        assertThat(clause("'Resource':['arn:aws:s3:::b','arn:aws:s3:::b/*']").constants())
                .hasSize(2);
    }
}
