{#* The Monday of the week of a moment.

    @param moment  a column, or an expression that gives one
#}
{% macro week_of(moment) -%}
DATE_SUB(DATE({{ moment }}), INTERVAL WEEKDAY({{ moment }}) DAY)
{%- endmacro %}
