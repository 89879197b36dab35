package warden.core.aws.policy;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.algebra.Language;
import warden.core.aws.policy.ValueTemplate.Resolution;
import warden.core.aws.policy.ValueTemplate.Wildcards;

class ValueTemplateTest {
    private static ValueTemplate template(String text) {
        return ValueTemplate.parse(text, Wildcards.AS_IN_ARNS, true).orElseThrow();
    }

    private static boolean matches(String template, Context context, String text) {
        return template(template).resolve(context) instanceof Resolution.Pattern pattern
                && pattern.glob().matches(text);
    }

    @ParameterizedTest
    @CsvSource({
        "arn:aws:s3:::b/*,                arn:aws:s3:::b/a/c:d,     true",
        "arn:aws:s3:::b/?,                arn:aws:s3:::b/:,         true",
        "arn:*:s3:::b/x,                  arn:aws:s3:::b/x,         true",
        "arn:*:::b/x,                     arn:aws:s3:::b/x,         false",
        "arn:aws:s3:*:b/x,                arn:aws:s3::1:b/x,        false",
        "arn:aws:s3:?:1:x,                arn:aws:s3:e:1:x,         true",
        "arn:aws:s3:?::x,                 arn:aws:s3::::x,          false",
        "arn:aws:iam::*:role/p,           arn:aws:iam::1:role/p,    true",
        "arn:aws:iam::1:role:*,           arn:aws:iam::1:role:a:b,  true",
    })
    void keepsWildcardsWithinThePartsOfAnArnExceptTheLast(String template, String text, boolean matches) {
        assertThat(matches(template, Context.empty(), text)).isEqualTo(matches);
    }

    @Test
    void takesEscapesAndValuesLiterally() {
        assertThat(matches("a${*}b${?}c${$}", Context.empty(), "a*b?c$")).isTrue();
        assertThat(matches("a${*}b", Context.empty(), "axxb")).isFalse();
        Context star = Context.given(Map.of("aws:username", ContextValue.Known.of("*")));
        assertThat(matches("home/${aws:UserName}/x", star, "home/*/x")).isTrue();
        assertThat(matches("home/${aws:UserName}/x", star, "home/anna/x")).isFalse();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "${aws:username, 'none'}/x | none/x",
                "${ aws:username ,'none'}/x | none/x",
                "${aws:username,none}/x | none/x",
                "${aws:username,''}/x | /x",
                "${aws:username,'}/x | '/x",
                "${aws:username,'a}/x | 'a/x",
                "${aws:username,a'}/x | a'/x"
            })
    void fallsBackToTheDefaultWhereTheKeyIsAbsent(String template, String text) {
        assertThat(matches(template, Context.empty(), text)).isTrue();
        Context anna = Context.given(Map.of("aws:username", ContextValue.Known.of("anna")));
        assertThat(matches(template, anna, "anna/x")).isTrue();
    }

    @Test
    void hasNoValueWithoutADefaultAndIsNotKnownWhereTheValueIsNot() {
        ValueTemplate template = template("home/${aws:username}");
        assertThat(template.resolve(Context.empty())).isInstanceOf(Resolution.NoValue.class);
        assertThat(template.resolve(Context.given(Map.of("aws:username", ContextValue.UNKNOWN))))
                .isInstanceOf(Resolution.NotKnown.class);
        Context several = Context.given(Map.of("aws:username", new ContextValue.Known(List.of("anna", "bert"))));
        assertThat(template.resolve(several)).isInstanceOf(Resolution.NotKnown.class);
        Context one = Context.given(Map.of("aws:username", new ContextValue.OneOf(Language.of("anna"), false)));
        assertThat(template.resolve(one)).isInstanceOf(Resolution.NotKnown.class);
    }

    @ParameterizedTest
    @ValueSource(strings = {"${", "a${aws:username", "${}", "b/${}/x"})
    void refusesAVariableThatIsOpenOrEmpty(String text) {
        assertThat(ValueTemplate.parse(text, Wildcards.ANYWHERE, true)).isEmpty();
        assertThat(ValueTemplate.parse(text, Wildcards.ANYWHERE, false)).isPresent();
    }

    @Test
    void namesItsVariablesAndKnowsWhenItIsConstant() {
        assertThat(template("${aws:UserName}/${s3:prefix,'x'}").variables())
                .containsExactly("aws:username", "s3:prefix");
        assertThat(template("${aws:UserName}").constant()).isEmpty();
        assertThat(template("a${*}").constant()).isPresent();
        assertThat(template("a${*}").variables()).isEmpty();
        assertThat(template("").constant()).isPresent();
    }

    @Test
    void leavesVariablesAloneInOldDocuments() {
        ValueTemplate old =
                ValueTemplate.parse("${aws:username}", Wildcards.NONE, false).orElseThrow();
        assertThat(old.constant().orElseThrow().matches("${aws:username}")).isTrue();
    }
}
