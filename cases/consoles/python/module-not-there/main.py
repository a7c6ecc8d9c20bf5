import timetabel

print(timetabel.first())
