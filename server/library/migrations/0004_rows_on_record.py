"""Rows are kept in the database, with the revisions in which they hold."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('library', '0003_shapes_are_derived'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddField(
            model_name='dataset',
            name='next_fid',
            field=models.BigIntegerField(default=0, help_text='that the next new feature gets; none is given twice'),
        ),
        migrations.AddField(
            model_name='revision',
            name='again',
            field=models.JSONField(default=list, help_text='numbers of the revisions that were undone, the next to be redone first'),
        ),
        migrations.AddField(
            model_name='revision',
            name='author',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL),
        ),
        migrations.AddField(
            model_name='revision',
            name='repeats',
            field=models.PositiveIntegerField(help_text='number of the revision that it is the same as', null=True),
        ),
        migrations.AddField(
            model_name='revision',
            name='before',
            field=models.PositiveIntegerField(help_text='number of the revision that an undo goes back to', null=True),
        ),
        migrations.AddField(
            model_name='revision',
            name='change',
            field=models.CharField(blank=True, help_text='what was done, in words', max_length=500),
        ),
        migrations.AddField(
            model_name='revision',
            name='projjson',
            field=models.JSONField(help_text='its CRS, whole', null=True),
        ),
        migrations.AddField(
            model_name='revision',
            name='shaped',
            field=models.ForeignKey(help_text='in which a shape changed last, where not in this one', null=True, on_delete=django.db.models.deletion.CASCADE, related_name='+', to='library.revision'),
        ),
        migrations.AlterField(
            model_name='revision',
            name='folder',
            field=models.CharField(blank=True, max_length=300),
        ),
        migrations.CreateModel(
            name='Attributes',
            fields=[
                ('pk', models.CompositePrimaryKey('dataset_id', 'fid', 'since', blank=True, editable=False, primary_key=True, serialize=False)),
                ('fid', models.BigIntegerField()),
                ('since', models.PositiveIntegerField()),
                ('until', models.PositiveIntegerField(null=True)),
                ('values', models.JSONField()),
                ('dataset', models.ForeignKey(db_constraint=False, db_index=False, on_delete=django.db.models.deletion.CASCADE, related_name='+', to='library.dataset')),
            ],
            options={
                'abstract': False,
                'indexes': [models.Index(condition=models.Q(('since__gt', 1)), fields=['dataset', 'since'], name='record_begun'), models.Index(condition=models.Q(('until__isnull', False)), fields=['dataset', 'until'], name='record_ended')],
            },
        ),
        migrations.CreateModel(
            name='Shape',
            fields=[
                ('pk', models.CompositePrimaryKey('dataset_id', 'fid', 'since', blank=True, editable=False, primary_key=True, serialize=False)),
                ('fid', models.BigIntegerField()),
                ('since', models.PositiveIntegerField()),
                ('until', models.PositiveIntegerField(null=True)),
                ('wkb', models.BinaryField()),
                ('dataset', models.ForeignKey(db_constraint=False, db_index=False, on_delete=django.db.models.deletion.CASCADE, related_name='+', to='library.dataset')),
            ],
            options={
                'abstract': False,
                'indexes': [models.Index(condition=models.Q(('since__gt', 1)), fields=['dataset', 'since'], name='shape_begun'), models.Index(condition=models.Q(('until__isnull', False)), fields=['dataset', 'until'], name='shape_ended')],
            },
        ),
    ]
