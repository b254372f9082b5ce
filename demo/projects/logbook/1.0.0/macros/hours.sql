{#* Hours between two moments, with two places after the point.
    @param begin  the earlier moment
    @param end    the later one
    @example
    {{ hours_between("departed_at", "arrived_at") }}
#}
{% macro hours_between(begin, end) -%}
ROUND(TIMESTAMPDIFF(MINUTE, {{ begin }}, {{ end }}) / 60, 2)
{%- endmacro %}
